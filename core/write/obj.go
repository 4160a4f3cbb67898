package write

import (
	"bufio"
	"fmt"
	"io"
	"strconv"
	"strings"

	"bildhauer/core/mesh"
)

// OBJ writes all parts to obj, one object each with a group a face group,
// and their materials to mtl, which obj refers to by the name mtlName.
func OBJ(obj, mtl io.Writer, mtlName string, parts []Part) error {
	b := bufio.NewWriterSize(obj, 1<<16)
	m := bufio.NewWriter(mtl)
	fmt.Fprintf(b, "# Bildhauer, millimetres\nmtllib %s\n", mtlName)
	fmt.Fprintln(m, "# Bildhauer")
	names := uniqueNames(parts)
	v0, n0 := int32(1), int32(1)
	var line []byte
	float := func(f float32) {
		line = append(line, ' ')
		line = strconv.AppendFloat(line, float64(f), 'g', -1, 32)
	}
	for i, p := range parts {
		fmt.Fprintf(
			m,
			"newmtl %s\nKd %.4f %.4f %.4f\n",
			names[i],
			float64(p.Color.R)/255,
			float64(p.Color.G)/255,
			float64(p.Color.B)/255,
		)
		fmt.Fprintf(b, "o %s\nusemtl %s\n", names[i], names[i])
		for v := range p.Mesh.Verts {
			line = append(line[:0], 'v')
			for _, c := range p.Mesh.Pos(int32(v)) {
				float(c)
			}
			b.Write(append(line, '\n'))
		}
		for _, n := range p.Mesh.Normals {
			line = append(line[:0], "vn"...)
			for _, c := range n {
				float(c)
			}
			b.Write(append(line, '\n'))
		}
		for g := range mesh.Groups {
			opened := false
			for k, t := range p.Mesh.Tris {
				if p.Mesh.Group[k] != mesh.Group(g) {
					continue
				}
				if !opened {
					fmt.Fprintf(b, "g %s_%s\n", names[i], mesh.Groups[g])
					opened = true
				}
				line = append(line[:0], 'f')
				for c := range 3 {
					line = append(line, ' ')
					line = strconv.AppendInt(line, int64(t[c]+v0), 10)
					if len(p.Mesh.Corner) > 0 {
						line = append(line, "//"...)
						line = strconv.AppendInt(line, int64(p.Mesh.Corner[k][c]+n0), 10)
					}
				}
				if _, err := b.Write(append(line, '\n')); err != nil {
					return err
				}
			}
		}
		v0 += int32(len(p.Mesh.Verts))
		n0 += int32(len(p.Mesh.Normals))
	}
	if err := m.Flush(); err != nil {
		return err
	}
	return b.Flush()
}

// uniqueNames makes names of letters, digits and underscores, each once.
func uniqueNames(parts []Part) []string {
	used := map[string]bool{}
	out := make([]string, len(parts))
	for i, p := range parts {
		name := strings.Map(func(r rune) rune {
			if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' {
				return r
			}
			return '_'
		}, p.Name)
		if strings.Trim(name, "_") == "" {
			name = "part"
		}
		for base, n := name, 2; used[name]; n++ {
			name = fmt.Sprintf("%s_%d", base, n)
		}
		used[name] = true
		out[i] = name
	}
	return out
}
