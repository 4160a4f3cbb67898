package write

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"io"
	"math"
	"math/rand/v2"
	"testing"
)

// unhalf is the other way of Half, by the definition of the format.
func unhalf(h uint16) float64 {
	e, m := int(h>>10&31), float64(h&1023)
	v := math.Ldexp(m/1024, -14)
	if e > 0 {
		v = math.Ldexp(1+m/1024, e-15)
	}
	if h&0x8000 != 0 {
		v = -v
	}
	return v
}

// TestHalvesAreNearest brings numbers to 16 bits: none of the neighbours is nearer.
func TestHalvesAreNearest(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for range 50_000 {
		v := float32(math.Ldexp(2*r.Float64()-1, r.IntN(44)-26))
		h := Half(v)
		off := math.Abs(unhalf(h) - float64(v))
		if math.Abs(float64(v)) > 65504 {
			if h&0x7fff != 0x7bff {
				t.Fatalf("%g becomes %x", v, h)
			}
			continue
		}
		for _, o := range []uint16{h - 1, h + 1} {
			if o&0x7fff < 0x7c00 && o&0x8000 == h&0x8000 && math.Abs(unhalf(o)-float64(v)) < off {
				t.Fatalf("%g becomes %g, %g is nearer", v, unhalf(h), unhalf(o))
			}
		}
	}
	if Half(float32(math.NaN()))&0x7c00 != 0x7c00 || Half(1) != 0x3c00 || Half(0) != 0 {
		t.Error("special numbers are wrong")
	}
}

// attributes reads the header of an EXR file and returns its attributes and where it ends.
func attributes(t *testing.T, b []byte) (map[string][]byte, int) {
	t.Helper()
	at := 8
	word := func() string {
		n := bytes.IndexByte(b[at:], 0)
		s := string(b[at : at+n])
		at += n + 1
		return s
	}
	out := map[string][]byte{}
	for {
		name := word()
		if name == "" {
			return out, at
		}
		word()
		n := int(binary.LittleEndian.Uint32(b[at:]))
		out[name] = b[at+4 : at+4+n]
		at += 4 + n
	}
}

// TestEXRIsReadBack reads pictures back by the layout of the format.
func TestEXRIsReadBack(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 2))
	for _, size := range [][2]int{{1, 1}, {7, 5}, {33, 40}} {
		w, h := size[0], size[1]
		even, noise := make([]float32, w*h), make([]float32, w*h)
		for i := range even {
			even[i], noise[i] = float32(i/w)/8, r.Float32()
		}
		list := []Channel{{"A", even, false}, {"G", noise, false}, {"Z", noise, true}}
		var b bytes.Buffer
		if err := EXR(&b, w, h, list); err != nil {
			t.Fatal(err)
		}
		data := b.Bytes()
		head, at := attributes(t, data)
		if head["compression"][0] != 3 || binary.LittleEndian.Uint32(head["dataWindow"][8:]) != uint32(w-1) ||
			math.Float32frombits(binary.LittleEndian.Uint32(head["chromaticities"][8:])) != 0.3 {
			t.Fatalf("header %v", head)
		}
		for y := 0; y < h; y += 16 {
			chunk := data[binary.LittleEndian.Uint64(data[at+y/16*8:]):]
			if int(binary.LittleEndian.Uint32(chunk)) != y {
				t.Fatalf("chunk %d begins at line %d", y/16, binary.LittleEndian.Uint32(chunk))
			}
			raw := unpacked(t, chunk[8:8+binary.LittleEndian.Uint32(chunk[4:])], w*min(16, h-y)*8)
			for line := y; line < min(h, y+16); line++ {
				for x := range w {
					i := line*w + x
					base := (line - y) * w * 8
					a := unhalf(binary.LittleEndian.Uint16(raw[base+2*x:]))
					z := math.Float32frombits(binary.LittleEndian.Uint32(raw[base+4*w+4*x:]))
					if a != float64(even[i]) || z != noise[i] {
						t.Fatalf("%dx%d: at %d,%d %g and %g, want %g and %g", w, h, x, line, a, z, even[i], noise[i])
					}
				}
			}
		}
	}
	for _, list := range [][]Channel{nil, {{"A", make([]float32, 3), false}}, {{"B", make([]float32, 4), false}, {"A", make([]float32, 4), false}}} {
		if EXR(io.Discard, 2, 2, list) == nil {
			t.Errorf("%v was written", list)
		}
	}
}

func unpacked(t *testing.T, b []byte, size int) []byte {
	t.Helper()
	if len(b) == size {
		return b
	}
	z, err := zlib.NewReader(bytes.NewReader(b))
	if err != nil {
		t.Fatal(err)
	}
	sorted, err := io.ReadAll(z)
	if err != nil || len(sorted) != size {
		t.Fatalf("%d bytes of %d, %v", len(sorted), size, err)
	}
	for i := 1; i < size; i++ {
		sorted[i] += sorted[i-1] - 128
	}
	out := make([]byte, size)
	for i := range out {
		out[i] = sorted[i/2+i%2*((size+1)/2)]
	}
	return out
}
