package write

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"fmt"
	"io"
	"math"
)

// Channel is one channel of a picture with a name, row by row.
type Channel struct {
	Name   string // R, G, B, A, Z or layer.name; in ascending order
	Values []float32
	Float  bool // as 32 bits, not 16
}

// EXR writes a picture as OpenEXR: scan lines, 16 at a time, zlib with the predictor of
// the format (Technical introduction to OpenEXR, and OpenEXR file layout, 2013).
// Channels have w*h values each and ascending names.
func EXR(w io.Writer, width, height int, channels []Channel) error {
	if width < 1 || height < 1 || len(channels) == 0 {
		return fmt.Errorf("there is nothing to write in a picture of %d by %d", width, height)
	}
	for i, c := range channels {
		if len(c.Values) != width*height {
			return fmt.Errorf("channel %s has %d values of %d", c.Name, len(c.Values), width*height)
		}
		if i > 0 && channels[i-1].Name >= c.Name {
			return fmt.Errorf("channel %s does not come after %s", c.Name, channels[i-1].Name)
		}
	}
	head := exrHeader(width, height, channels)
	chunks := (height + exrLines - 1) / exrLines
	offsets := make([]byte, 0, 8*chunks)
	var body bytes.Buffer
	for y := 0; y < height; y += exrLines {
		offsets = binary.LittleEndian.AppendUint64(offsets, uint64(len(head)+8*chunks+body.Len()))
		raw := exrBlock(width, y, min(height, y+exrLines), channels)
		packed, err := exrPacked(raw)
		if err != nil {
			return err
		}
		body.Write(binary.LittleEndian.AppendUint32(nil, uint32(y)))
		body.Write(binary.LittleEndian.AppendUint32(nil, uint32(len(packed))))
		body.Write(packed)
	}
	out := &sticky{w: w}
	for _, part := range [][]byte{head, offsets, body.Bytes()} {
		_, _ = out.Write(part)
	}
	return out.err
}

// exrLines is how many scan lines zlib packs together in this format.
const exrLines = 16

func exrHeader(width, height int, channels []Channel) []byte {
	le := binary.LittleEndian
	b := []byte{0x76, 0x2f, 0x31, 0x01, 2, 0, 0, 0}
	attribute := func(name, kind string, value []byte) {
		b = append(append(b, name...), 0)
		b = append(append(b, kind...), 0)
		b = le.AppendUint32(b, uint32(len(value)))
		b = append(b, value...)
	}
	var list []byte
	for _, c := range channels {
		list = append(append(list, c.Name...), 0)
		kind := uint32(1) // half
		if c.Float {
			kind = 2
		}
		list = le.AppendUint32(list, kind)
		list = append(list, 0, 0, 0, 0) // not to be seen as perceptually linear
		list = le.AppendUint32(list, 1)
		list = le.AppendUint32(list, 1)
	}
	window := make([]byte, 8, 16)
	window = le.AppendUint32(window, uint32(width-1))
	window = le.AppendUint32(window, uint32(height-1))
	one := le.AppendUint32(nil, math.Float32bits(1))
	attribute("channels", "chlist", append(list, 0))
	var primaries []byte // of sRGB and BT.709: red, green, blue and white, x and y
	for _, v := range [8]float32{0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329} {
		primaries = le.AppendUint32(primaries, math.Float32bits(v))
	}
	attribute("chromaticities", "chromaticities", primaries)
	attribute("compression", "compression", []byte{3})
	attribute("dataWindow", "box2i", window)
	attribute("displayWindow", "box2i", window)
	attribute("lineOrder", "lineOrder", []byte{0})
	attribute("pixelAspectRatio", "float", one)
	attribute("screenWindowCenter", "v2f", make([]byte, 8))
	attribute("screenWindowWidth", "float", one)
	return append(b, 0)
}

// exrBlock returns the values of some lines: line by line, channel by channel.
func exrBlock(width, from, to int, channels []Channel) []byte {
	var b []byte
	for y := from; y < to; y++ {
		for _, c := range channels {
			for _, v := range c.Values[y*width : (y+1)*width] {
				if c.Float {
					b = binary.LittleEndian.AppendUint32(b, math.Float32bits(v))
				} else {
					b = binary.LittleEndian.AppendUint16(b, Half(v))
				}
			}
		}
	}
	return b
}

// exrPacked sorts bytes into low and high ones, takes differences, and packs them; what
// does not get smaller stays as it is.
func exrPacked(raw []byte) ([]byte, error) {
	half := (len(raw) + 1) / 2
	sorted := make([]byte, len(raw))
	for i, v := range raw {
		sorted[i/2+i%2*half] = v
	}
	last := sorted[0]
	for i := 1; i < len(sorted); i++ {
		v := sorted[i]
		sorted[i] = v - last + 128
		last = v
	}
	var b bytes.Buffer
	z := zlib.NewWriter(&b)
	if _, err := z.Write(sorted); err != nil {
		return nil, err
	}
	if err := z.Close(); err != nil {
		return nil, err
	}
	if b.Len() >= len(raw) {
		return raw, nil
	}
	return b.Bytes(), nil
}

// Half returns a number as 16 bits (IEEE 754 binary16), rounded to the nearest, ties to
// even; what is too large is the largest, since pictures have no infinite light.
func Half(v float32) uint16 {
	bits := math.Float32bits(v)
	sign := uint16(bits >> 16 & 0x8000)
	exp, frac := int(bits>>23&0xff)-127, bits&0x7fffff
	switch {
	case v != v:
		return sign | 0x7e00
	case exp > 15:
		return sign | 0x7bff
	case exp < -25:
		return sign
	}
	shift := uint(13)
	m := frac | 0x800000
	e := exp + 15
	if e <= 0 { // below the least normal number
		shift += uint(1 - e)
		e = 0
	} else {
		m &^= 0x800000
	}
	h := m >> shift
	rest, tie := m&(1<<shift-1), uint32(1)<<(shift-1)
	if rest > tie || rest == tie && h&1 == 1 {
		h++
	}
	return sign | min(uint16(e)<<10+uint16(h), 0x7bff)
}
