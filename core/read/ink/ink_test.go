package ink

import (
	"math"
	"math/rand/v2"
	"testing"

	"bildhauer/core/geom"
)

// TestTraceKeepsEverySample traces random bitmaps: the outlines enclose as
// much area as there are samples, and each sample's middle lies inside.
func TestTraceKeepsEverySample(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 60 {
		w, h := 1+r.IntN(20), 1+r.IntN(20)
		data := make([]byte, (w+7)/8*h)
		for i := range data {
			data[i] = byte(r.Uint32())
		}
		bit := Bit(data, w, r.IntN(2) == 0)
		loops := Trace(w, h, bit)
		n, area := 0, 0.0
		for _, c := range loops {
			p := c.Start
			for _, s := range c.Segs {
				area += p.Cross(s.To) / 2
				p = s.To
			}
		}
		for y := range h {
			for x := range w {
				in := false
				for _, c := range loops {
					at := c.Start
					for _, s := range append(c.Segs, geom.Segment{To: c.Start}) {
						if a, b := at, s.To; a.X == b.X && a.X > float64(x)+0.5 &&
							math.Min(a.Y, b.Y) < float64(y)+0.5 &&
							math.Max(a.Y, b.Y) > float64(y)+0.5 {
							in = !in
						}
						at = s.To
					}
				}
				if in != bit(x, y) {
					t.Fatalf("sample %d, %d of %d by %d: inside %v", x, y, w, h, in)
				}
				if in {
					n++
				}
			}
		}
		if math.Abs(area-float64(n)) > 1e-9 {
			t.Fatalf("area %g of %d samples", area, n)
		}
	}
}

// TestFunctions evaluates each kind at places with known values.
func TestFunctions(t *testing.T) {
	calc, ok := ParseCalculator(
		"{ dup 0.5 lt { 2 mul } { pop 1 } ifelse 3 1 roll 2 copy add exch pop exch }",
		[]float64{0, 1, 0, 1, 0, 1},
		[]float64{0, 1, 0, 1, 0, 1},
	)
	if !ok {
		t.Fatal("calculator not understood")
	}
	for name, c := range map[string]struct {
		f        Function
		in, want []float64
	}{
		"exponential": {&Exponential{Domain: []float64{0, 1}, N: 2, C0: []float64{0, 1}, C1: []float64{1, 0}}, []float64{0.5}, []float64{0.25, 0.75}},
		"clamped": {
			&Exponential{Domain: []float64{0, 1}, N: 1, C0: []float64{0}, C1: []float64{2}, Range: []float64{0, 1}},
			[]float64{7},
			[]float64{1},
		},
		"stitched": {
			&Stitch{
				Domain: []float64{0, 1},
				Bounds: []float64{0.25},
				Encode: []float64{0, 1, 1, 0},
				Parts:  []Function{&Exponential{N: 1}, &Exponential{N: 1}},
			},
			[]float64{0.625},
			[]float64{0.5},
		},
		"sampled, two in": {
			&Sampled{Domain: []float64{0, 1, 0, 1}, Range: []float64{0, 1}, Size: []int{2, 2}, Bits: 8, Data: []byte{0, 255, 255, 0}},
			[]float64{0.5, 0.5},
			[]float64{0.5},
		},
		"sampled, 12 bits": {
			&Sampled{Domain: []float64{0, 1}, Range: []float64{0, 4095}, Size: []int{2}, Bits: 12, Data: []byte{0x12, 0x3f, 0xff}},
			[]float64{0},
			[]float64{0x123},
		},
		"calculator": {calc, []float64{0.1, 0.2, 0.25}, []float64{0.5, 0.3, 0.1}},
		"joined":     {Join{&Exponential{N: 1}, &Exponential{N: 2}}, []float64{0.5}, []float64{0.5, 0.25}},
	} {
		got := c.f.Eval(c.in)
		for i := range c.want {
			if i >= len(got) || math.Abs(got[i]-c.want[i]) > 1e-9 {
				t.Errorf("%s: %v, want %v", name, got, c.want)
				break
			}
		}
	}
	if c := CMYK(0, 0, 0, 0); c.Hex() != "#ffffff" {
		t.Errorf("paper is %s", c.Hex())
	}
	if c := Lab(100, 0, 0); c.R < 250 || c.B < 245 {
		t.Errorf("white in Lab is %s", c.Hex())
	}
}
