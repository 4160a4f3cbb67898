package mesh

// Drop takes triangles out by their number, which leaves the solid open there on purpose. Vertices that
// nothing uses any more go as well.
func (m *Mesh) Drop(which func(k int) bool) {
	before := len(m.Tris)
	m.keep(func(k int) bool { return !which(k) })
	m.Open = m.Open || len(m.Tris) < before
}

// keep drops the triangles that want does not want, and vertices that nothing uses then.
func (m *Mesh) keep(want func(k int) bool) {
	kept := 0
	for k := range m.Tris {
		if !want(k) {
			continue
		}
		m.Tris[kept], m.Group[kept] = m.Tris[k], m.Group[k]
		if m.Part != nil {
			m.Part[kept] = m.Part[k]
		}
		if len(m.Corner) > 0 {
			m.Corner[kept] = m.Corner[k]
		}
		if len(m.Wrap) > 0 {
			m.Wrap[kept] = m.Wrap[k]
		}
		kept++
	}
	m.Tris, m.Group = m.Tris[:kept], m.Group[:kept]
	if m.Part != nil {
		m.Part = m.Part[:kept]
	}
	if len(m.Corner) > 0 {
		m.Corner = m.Corner[:kept]
	}
	if len(m.Wrap) > 0 {
		m.Wrap = m.Wrap[:kept]
	}
	m.Compact()
}

// Compact drops vertices that no triangle uses.
func (m *Mesh) Compact() {
	num := make([]int32, len(m.Verts))
	used := 0
	for _, t := range m.Tris {
		for _, v := range t {
			used += 1 - int(num[v])
			num[v] = 1
		}
	}
	if used == len(m.Verts) {
		return
	}
	kept := int32(0)
	for v, used := range num {
		if used == 0 {
			continue
		}
		m.Verts[kept] = m.Verts[v]
		num[v] = kept
		kept++
	}
	m.Verts = m.Verts[:kept]
	for k, t := range m.Tris {
		m.Tris[k] = [3]int32{num[t[0]], num[t[1]], num[t[2]]}
	}
}
