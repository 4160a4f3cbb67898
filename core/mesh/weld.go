package mesh

// Weld makes one vertex of all at one place, as a reader does of a file that names no
// vertices. Normals are dropped.
func (m *Mesh) Weld() *Mesh {
	out := &Mesh{Step: m.Step, Group: m.Group, Part: m.Part, Open: m.Open, Tris: make([][3]int32, len(m.Tris))}
	num := make(map[[3]int32]int32, len(m.Verts)/4)
	for k, t := range m.Tris {
		for i, v := range t {
			n, ok := num[m.Verts[v]]
			if !ok {
				n = int32(len(out.Verts))
				num[m.Verts[v]] = n
				out.Verts = append(out.Verts, m.Verts[v])
			}
			out.Tris[k][i] = n
		}
	}
	return out
}
