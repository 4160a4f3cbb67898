package write

import (
	"bufio"
	"encoding/binary"
	"fmt"
	"io"
	"math"
)

// PLY writes all parts as one binary PLY (Turk, The PLY polygon file format, 1994) in mm:
// points with normals, where there are any, and the colour of their paint.
func PLY(w io.Writer, parts []Part) error {
	type point struct {
		pos, normal [3]float32
		color       [3]uint8
	}
	var points []point
	var faces [][3]int32
	normals := false
	for i := range parts {
		p := &parts[i]
		pos, nrm, _, idx := Corners(*p)
		normals = normals || nrm != nil
		paints := p.paints()
		seen := map[[2]int32]int32{} // corner and paint -> point
		for k := range p.Mesh.Tris {
			n := p.paintOf(k)
			var face [3]int32
			for c := range 3 {
				at := idx[3*k+c]
				key := [2]int32{int32(at), int32(n)}
				v, ok := seen[key]
				if !ok {
					v = int32(len(points))
					seen[key] = v
					one := point{pos: pos[at], color: [3]uint8{paints[n].Color.R, paints[n].Color.G, paints[n].Color.B}}
					if nrm != nil {
						one.normal = nrm[at]
					}
					points = append(points, one)
				}
				face[c] = v
			}
			faces = append(faces, face)
		}
	}
	b := bufio.NewWriterSize(w, 1<<16)
	fmt.Fprintf(b, "ply\nformat binary_little_endian 1.0\ncomment Bildhauer, millimetres\nelement vertex %d\n", len(points))
	fmt.Fprint(b, "property float x\nproperty float y\nproperty float z\n")
	if normals {
		fmt.Fprint(b, "property float nx\nproperty float ny\nproperty float nz\n")
	}
	fmt.Fprint(b, "property uchar red\nproperty uchar green\nproperty uchar blue\n")
	fmt.Fprintf(b, "element face %d\nproperty list uchar int vertex_indices\nend_header\n", len(faces))
	var line []byte
	for _, p := range points {
		line = line[:0]
		for _, v := range p.pos {
			line = binary.LittleEndian.AppendUint32(line, math.Float32bits(v))
		}
		for _, v := range p.normal {
			if normals {
				line = binary.LittleEndian.AppendUint32(line, math.Float32bits(v))
			}
		}
		b.Write(append(line, p.color[:]...))
	}
	for _, f := range faces {
		line = append(line[:0], 3)
		for _, v := range f {
			line = binary.LittleEndian.AppendUint32(line, uint32(v))
		}
		b.Write(line)
	}
	return b.Flush()
}
