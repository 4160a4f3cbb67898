package raise

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"io"
	"os"
	"testing"

	"github.com/go-text/typesetting/font"
	ot "github.com/go-text/typesetting/font/opentype"

	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// sfnt unpacks a WOFF 1.0 file (W3C recommendation of 2012) to the font in it.
func sfnt(t testing.TB, path string) []byte {
	t.Helper()
	b, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	u16, u32 := binary.BigEndian.Uint16, binary.BigEndian.Uint32
	n := int(u16(b[12:]))
	out := make([]byte, 12+16*n)
	copy(out, b[4:8])
	copy(out[4:], b[12:14])
	for i := range n {
		e := b[44+20*i:]
		off, comp, orig := u32(e[4:]), u32(e[8:]), u32(e[12:])
		data := b[off : off+comp]
		if comp < orig {
			z, err := zlib.NewReader(bytes.NewReader(data))
			if err != nil {
				t.Fatal(err)
			}
			if data, err = io.ReadAll(z); err != nil {
				t.Fatal(err)
			}
		}
		rec := out[12+16*i:]
		copy(rec, e[:4])
		copy(rec[4:], e[16:20])
		binary.BigEndian.PutUint32(rec[8:], uint32(len(out)))
		binary.BigEndian.PutUint32(rec[12:], orig)
		out = append(out, data...)
		for len(out)%4 != 0 {
			out = append(out, 0)
		}
	}
	return out
}

// letters returns the outlines of the letters of a shipped font, 60 mm high.
func letters(t testing.TB, file, text string) [][]plane.Loop {
	t.Helper()
	face, err := font.ParseTTF(bytes.NewReader(sfnt(t, "../../web/static/vendor/fonts/"+file)))
	if err != nil {
		t.Fatal(err)
	}
	scale := 60 / float64(face.Upem())
	var out [][]plane.Loop
	for _, r := range text {
		gid, ok := face.NominalGlyph(r)
		if !ok {
			t.Fatalf("%s lacks %q", file, r)
		}
		data, ok := face.GlyphData(gid).(font.GlyphOutline)
		if !ok {
			t.Fatalf("%q has no outline", r)
		}
		var contours []geom.Contour
		at := func(p ot.SegmentPoint) geom.Vec {
			return geom.Vec{X: float64(p.X)*scale - 15, Y: float64(p.Y)*scale - 20}
		}
		for _, s := range data.Segments {
			if s.Op == ot.SegmentOpMoveTo {
				contours = append(contours, geom.Contour{Start: at(s.Args[0]), Closed: true})
				continue
			}
			c := &contours[len(contours)-1]
			switch s.Op {
			case ot.SegmentOpLineTo:
				c.Segs = append(c.Segs, geom.Segment{To: at(s.Args[0])})
			case ot.SegmentOpQuadTo:
				c.Segs = append(c.Segs, geom.Segment{Kind: geom.Quad, C1: at(s.Args[0]), To: at(s.Args[1])})
			case ot.SegmentOpCubeTo:
				c.Segs = append(
					c.Segs,
					geom.Segment{Kind: geom.Cubic, C1: at(s.Args[0]), C2: at(s.Args[1]), To: at(s.Args[2])},
				)
			}
		}
		var loops []plane.Loop
		for _, c := range contours {
			var l plane.Loop
			for _, v := range c.Flatten(0.01, nil) {
				l = append(l, mm(v.X, v.Y))
			}
			loops = append(loops, l)
		}
		out = append(out, loops)
	}
	return out
}

// alphabet has the letters of all shipped fonts.
func alphabet(t testing.TB) [][]plane.Loop {
	const text = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&@%§ßäöüÄÖÜ×€"
	var all [][]plane.Loop
	for _, f := range []string{"source-sans-3-latin-400-normal.woff", "source-sans-3-latin-600-normal.woff", "fira-mono-latin-400-normal.woff"} {
		all = append(all, letters(t, f, text)...)
	}
	return all
}
