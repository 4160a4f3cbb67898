package reader_test

import (
	"bytes"
	"compress/gzip"
	"compress/zlib"
	"encoding/base64"
	"fmt"
	"image"
	"image/png"
	"strings"
)

// hostile is a file that tries to hurt whoever reads it, in one of the ways in which the work of
// a reader can grow.
type hostile struct {
	Name string
	Data []byte
}

// battery returns all of them.
func battery() []hostile {
	var out []hostile
	for _, make := range []func() []hostile{svgFiles, epsFiles, aiFiles, pdfFiles, otherFiles} {
		out = append(out, make()...)
	}
	return out
}

func times(s string, n int) string { return strings.Repeat(s, n) }

// each joins what f makes of the numbers up to n.
func each(n int, f func(i int) string) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(f(i))
	}
	return b.String()
}

func packed(s string) []byte {
	var b bytes.Buffer
	z, _ := zlib.NewWriterLevel(&b, zlib.BestSpeed)
	z.Write([]byte(s))
	z.Close()
	return b.Bytes()
}

var zeros = map[int][]byte{} // what packedZeros made

// packedZeros returns n zero bytes, packed.
func packedZeros(n int) []byte {
	if data, ok := zeros[n]; ok {
		return data
	}
	var b bytes.Buffer
	z, _ := zlib.NewWriterLevel(&b, zlib.BestSpeed)
	chunk := make([]byte, 1<<20)
	for left := n; left > 0; left -= len(chunk) {
		z.Write(chunk[:min(left, len(chunk))])
	}
	z.Close()
	zeros[n] = b.Bytes()
	return zeros[n]
}

// doubled defines things that hold two of the one before, n of them: 2^n at the end.
func doubled(n int, first string, next func(i int) string) string {
	return first + each(n, func(i int) string { return next(i + 1) })
}

func named(kind string, files map[string]string) []hostile {
	var out []hostile
	for _, name := range sortedKeys(files) {
		out = append(out, hostile{kind + ": " + name, []byte(files[name])})
	}
	return out
}

func sortedKeys(m map[string]string) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	for i := range keys { // few enough
		for j := i; j > 0 && keys[j] < keys[j-1]; j-- {
			keys[j], keys[j-1] = keys[j-1], keys[j]
		}
	}
	return keys
}

func f(format string, args ...any) string { return fmt.Sprintf(format, args...) }

func gzipped(s string) []byte {
	var b bytes.Buffer
	z, _ := gzip.NewWriterLevel(&b, gzip.BestSpeed)
	z.Write([]byte(s))
	z.Close()
	return b.Bytes()
}

func pngOf(w, h int, at func(x, y int) byte) []byte {
	m := image.NewGray(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			m.Pix[y*m.Stride+x] = at(x, y)
		}
	}
	var b bytes.Buffer
	(&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, m)
	return b.Bytes()
}

func base64Of(b []byte) string { return base64.StdEncoding.EncodeToString(b) }
