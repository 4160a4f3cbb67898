package mesh

// Pose is a turn by quarters and a move. Axis i of the posed mesh is axis
// From[i] of the mesh, mirrored where Minus[i]; the move, in grid units, comes
// after that. It must not mirror the whole.
type Pose struct {
	From  [3]int
	Minus [3]bool
	Move  [3]int32
}

// The turns of a solid whose front faces up along z.
var (
	AsItIs   = Pose{From: [3]int{0, 1, 2}}
	FaceDown = Pose{From: [3]int{0, 1, 2}, Minus: [3]bool{false, true, true}}
	// The drawing's top is up, its front looks along -y.
	Upright = Pose{From: [3]int{0, 2, 1}, Minus: [3]bool{false, true, false}}
	// From z up to y up.
	YUp = Pose{From: [3]int{0, 2, 1}, Minus: [3]bool{false, false, true}}
)

// Then returns the turn p and after it the turn q, without moves.
func (p Pose) Then(q Pose) Pose {
	var out Pose
	for i := range 3 {
		k := q.From[i]
		out.From[i], out.Minus[i] = p.From[k], p.Minus[k] != q.Minus[i]
	}
	return out
}

// Apply returns the mesh in a pose. Coordinates stay on the grid.
func (p Pose) Apply(m *Mesh) *Mesh {
	out := *m
	out.Verts = make([][3]int32, len(m.Verts))
	for i, v := range m.Verts {
		for k := range 3 {
			c := v[p.From[k]]
			if p.Minus[k] {
				c = -c
			}
			out.Verts[i][k] = c + p.Move[k]
		}
	}
	out.Normals = make([][3]float32, len(m.Normals))
	for i, v := range m.Normals {
		for k := range 3 {
			c := v[p.From[k]]
			if p.Minus[k] {
				c = -c
			}
			out.Normals[i][k] = c
		}
	}
	return &out
}
