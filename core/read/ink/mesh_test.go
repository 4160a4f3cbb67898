package ink

import (
	"fmt"
	"testing"

	"bildhauer/core/artwork"
)

// bitWriter packs numbers of any width, highest bit first.
type bitWriter struct {
	data []byte
	n    int
}

func (b *bitWriter) put(v uint64, bits int) {
	for i := bits - 1; i >= 0; i-- {
		if b.n%8 == 0 {
			b.data = append(b.data, 0)
		}
		b.data[b.n/8] |= byte(v>>i&1) << (7 - b.n%8)
		b.n++
	}
}

func (b *bitWriter) align() { b.n = (b.n + 7) &^ 7 }

// TestMeshColors packs vertices and patches with known colours, in widths that
// do not fit bytes, and reads the colours back.
func TestMeshColors(t *testing.T) {
	for _, c := range []struct {
		kind, coordinate, component, flag int
		flags                             []uint64
	}{
		{4, 8, 8, 8, []uint64{0, 0, 0, 1, 2}},
		{4, 12, 4, 2, []uint64{0, 0, 0, 1}},
		{5, 16, 8, 0, []uint64{0, 0, 0, 0, 0, 0}},
		{6, 8, 8, 8, []uint64{0, 1, 2, 3}},
		{7, 24, 16, 4, []uint64{0, 2}},
	} {
		var b bitWriter
		want := 0
		value := uint64(0)
		for _, f := range c.flags {
			points, corners := 1, 1
			if c.kind >= 6 {
				points, corners = 12+4*(c.kind-6), 4
				if f != 0 {
					points, corners = points-4, 2
				}
			}
			if c.kind != 5 {
				b.put(f, c.flag)
			}
			for range 2 * points {
				b.put(1, c.coordinate)
			}
			for range corners {
				for range 3 {
					b.put(value%(1<<c.component), c.component)
					value++
				}
				want++
			}
			b.align()
		}
		m := Mesh{
			Kind: c.kind, Coordinate: c.coordinate, Component: c.component, Flag: c.flag,
			Decode: []float64{0, 1, 0, 1, 0, 255, 0, 255, 0, 255}, Data: b.data,
		}
		got := m.Colors(3)
		if len(got) != want {
			t.Errorf("type %d: %d colours, want %d", c.kind, len(got), want)
			continue
		}
		k := uint64(0)
		for _, color := range got {
			for _, v := range color {
				full := float64(uint64(1)<<c.component - 1)
				if d := v - float64(k%(1<<c.component))/full*255; d > 1e-9 || d < -1e-9 {
					t.Fatalf("type %d: component %d is %g", c.kind, k, v)
				}
				k++
			}
		}
		m.Data = m.Data[:len(m.Data)-1]
		if cut := m.Colors(3); len(cut) >= want {
			t.Errorf("type %d: %d colours from data that end early", c.kind, len(cut))
		}
	}
	for _, m := range []Mesh{{}, {Kind: 4, Coordinate: 64, Component: 8}, {Kind: 9, Coordinate: 8, Component: 8, Data: []byte("data")}} {
		if got := m.Colors(3); len(got) != 0 {
			t.Errorf("%+v gave %v", m, got)
		}
	}
}

// TestMeanOfShadings samples colours and takes their mean, or says that it can't.
func TestMeanOfShadings(t *testing.T) {
	sheet := &artwork.Sheet{}
	s := &Shading{Kind: 1, Samples: func() []artwork.Color {
		return OnGrid([]float64{0, 2, 0, 4}, func(v []float64) artwork.Color {
			return artwork.Color{R: uint8(v[0] * 100), G: uint8(v[1] * 50), B: 7}
		})
	}}
	sh := artwork.Shape{Opacity: 0.5}
	if !s.Paint(sheet, &sh, [1]artwork.Shape{}[0].Matrix) || fmt.Sprint(sh.Color) != "{100 100 7}" || sh.Gradient != nil {
		t.Errorf("painted %v", sh.Color)
	}
	empty := &Shading{Kind: 6, Samples: func() []artwork.Color { return nil }}
	if !empty.Paint(sheet, &sh, sh.Matrix) || sh.Color != (artwork.Color{R: 128, G: 128, B: 128}) {
		t.Errorf("without colours it became %v", sh.Color)
	}
	kinds := fmt.Sprint(sheet.Notes[0].Kind == artwork.NoteMeanColor, sheet.Notes[1].Kind == artwork.NoteShading)
	if kinds != "true true" {
		t.Errorf("notes %+v", sheet.Notes)
	}
}
