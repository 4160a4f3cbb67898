package stages

import (
	"bildhauer/core/mesh"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

// Place lays finished parts as the size section says: which way they lie, where
// the origin is, which axis is up. standing is for formats that have the piece
// stand with y up by themselves (GLB): there it only lies face down or not.
func Place(parts []write.Part, s *recipe.Size, standing bool) []write.Part {
	turn := mesh.AsItIs
	switch {
	case s.Lying == recipe.FaceDown:
		turn = mesh.FaceDown
	case s.Lying == recipe.Upright && !standing:
		turn = mesh.Upright
	}
	if s.Up == recipe.UpY && !standing {
		turn = turn.Then(mesh.YUp)
	}
	if !s.Posed() || len(parts) == 0 || standing && turn == mesh.AsItIs && s.Origin == "" {
		return parts
	}
	up := 2
	if s.Up == recipe.UpY && !standing {
		up = 1
	}
	out := make([]write.Part, len(parts))
	lo, hi := [3]int32{1 << 30, 1 << 30, 1 << 30}, [3]int32{-1 << 30, -1 << 30, -1 << 30}
	for i, p := range parts {
		out[i] = p
		out[i].Mesh = turn.Apply(p.Mesh)
		for _, v := range out[i].Mesh.Verts {
			for k := range v {
				lo[k], hi[k] = min(lo[k], v[k]), max(hi[k], v[k])
			}
		}
	}
	move := mesh.AsItIs
	for k := range 3 {
		middle := -(lo[k] + hi[k]) / 2
		switch {
		case s.Origin == recipe.OriginCorner || s.Origin == "" && k == up:
			move.Move[k] = -lo[k]
		default:
			move.Move[k] = middle
		}
	}
	for i := range out {
		out[i].Mesh = move.Apply(out[i].Mesh)
	}
	return out
}
