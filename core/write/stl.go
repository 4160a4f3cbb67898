package write

import (
	"bufio"
	"encoding/binary"
	"io"
	"math"
)

// STL writes all parts as one binary STL in mm. The format carries neither
// names nor colours.
func STL(w io.Writer, parts []Part) error {
	b := bufio.NewWriterSize(w, 1<<16)
	var head [84]byte
	copy(head[:], "Bildhauer, millimetres")
	n := 0
	for _, p := range parts {
		n += len(p.Mesh.Tris)
	}
	binary.LittleEndian.PutUint32(head[80:], uint32(n))
	b.Write(head[:])
	var rec [50]byte
	put := func(at int, v [3]float32) {
		for i, c := range v {
			binary.LittleEndian.PutUint32(rec[at+4*i:], math.Float32bits(c))
		}
	}
	for _, p := range parts {
		for _, t := range p.Mesh.Tris {
			x, y, z := p.Mesh.Pos(t[0]), p.Mesh.Pos(t[1]), p.Mesh.Pos(t[2])
			put(0, faceNormal(x, y, z))
			put(12, x)
			put(24, y)
			put(36, z)
			if _, err := b.Write(rec[:]); err != nil {
				return err
			}
		}
	}
	return b.Flush()
}

func faceNormal(a, b, c [3]float32) [3]float32 {
	var u, v [3]float64
	for i := range 3 {
		u[i], v[i] = float64(b[i])-float64(a[i]), float64(c[i])-float64(a[i])
	}
	n := [3]float64{u[1]*v[2] - u[2]*v[1], u[2]*v[0] - u[0]*v[2], u[0]*v[1] - u[1]*v[0]}
	l := math.Sqrt(n[0]*n[0] + n[1]*n[1] + n[2]*n[2])
	if l == 0 {
		return [3]float32{}
	}
	return [3]float32{float32(n[0] / l), float32(n[1] / l), float32(n[2] / l)}
}
