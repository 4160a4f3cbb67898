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
	names := uniqueNames(namesOf(parts))
	paints := uniqueNames(paintNames(parts))
	v0, n0, t0 := int32(1), int32(1), int32(1)
	var line []byte
	float := func(f float32) {
		line = append(line, ' ')
		line = strconv.AppendFloat(line, float64(f), 'g', -1, 32)
	}
	for i := range parts {
		p := &parts[i]
		own := paints[:len(p.paints())]
		paints = paints[len(own):]
		for k, paint := range p.paints() {
			c := paint.Color
			fmt.Fprintf(
				m, "newmtl %s\nKd %.4f %.4f %.4f\n", own[k], float64(c.R)/255, float64(c.G)/255, float64(c.B)/255,
			)
		}
		fmt.Fprintf(b, "o %s\nusemtl %s\n", names[i], own[0])
		using := 0
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
		for _, uv := range p.Mesh.UV {
			line = append(line[:0], "vt"...)
			for _, c := range uv {
				float(c)
			}
			b.Write(append(line, '\n'))
		}
		quads := p.Mesh.Quads()
		for g := range len(mesh.Groups) * len(own) {
			opened := false
			paint, group := g/len(mesh.Groups), g%len(mesh.Groups)
			for k := range p.Mesh.Tris {
				other := quads[k]
				if int(p.Mesh.Group[k]) != group || p.paintOf(k) != paint || other >= 0 && int(other) < k {
					continue
				}
				if !opened {
					if paint != using {
						fmt.Fprintf(b, "usemtl %s\n", own[paint])
						using = paint
					}
					fmt.Fprintf(b, "g %s_%s\n", own[paint], mesh.Groups[group])
					opened = true
				}
				line = append(line[:0], 'f')
				for _, c := range p.Mesh.Polygon(int32(k), other) {
					line = append(line, ' ')
					line = strconv.AppendInt(line, int64(c[0]+v0), 10)
					if len(p.Mesh.Corner) > 0 {
						line = append(line, '/')
						if len(p.Mesh.Wrap) > 0 {
							line = strconv.AppendInt(line, int64(c[2]+t0), 10)
						}
						line = append(line, '/')
						line = strconv.AppendInt(line, int64(c[1]+n0), 10)
					}
				}
				if _, err := b.Write(append(line, '\n')); err != nil {
					return err
				}
			}
		}
		v0 += int32(len(p.Mesh.Verts))
		n0 += int32(len(p.Mesh.Normals))
		t0 += int32(len(p.Mesh.UV))
	}
	if err := m.Flush(); err != nil {
		return err
	}
	return b.Flush()
}

func namesOf(parts []Part) []string {
	out := make([]string, len(parts))
	for i := range parts {
		out[i] = parts[i].Name
	}
	return out
}

// paintNames returns the names of the paints of all parts, one after the other.
func paintNames(parts []Part) []string {
	var out []string
	for i := range parts {
		for _, paint := range parts[i].paints() {
			out = append(out, paint.Name)
		}
	}
	return out
}

// uniqueNames makes names of letters, digits and underscores, each once.
func uniqueNames(list []string) []string {
	used := map[string]bool{}
	out := make([]string, len(list))
	for i, name := range list {
		name = strings.Map(func(r rune) rune {
			if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' {
				return r
			}
			return '_'
		}, name)
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
