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
	pose, ok := placing(parts, s, standing)
	if !ok {
		return parts
	}
	out := make([]write.Part, len(parts))
	for i, p := range parts {
		out[i] = p
		out[i].Mesh = pose.Apply(p.Mesh)
	}
	return out
}

// placing returns how Place lays parts; ok is false where they stay as they are.
func placing(parts []write.Part, s *recipe.Size, standing bool) (pose mesh.Pose, ok bool) {
	pose = mesh.AsItIs
	switch {
	case s.Lying == recipe.FaceDown:
		pose = mesh.FaceDown
	case s.Lying == recipe.Upright && !standing:
		pose = mesh.Upright
	}
	if s.Up == recipe.UpY && !standing {
		pose = pose.Then(mesh.YUp)
	}
	if !s.Posed() || len(parts) == 0 || standing && pose == mesh.AsItIs && s.Origin == "" {
		return pose, false
	}
	up := 2
	if s.Up == recipe.UpY && !standing {
		up = 1
	}
	lo, hi := [3]int32{1 << 30, 1 << 30, 1 << 30}, [3]int32{-1 << 30, -1 << 30, -1 << 30}
	for _, p := range parts {
		for _, v := range p.Mesh.Verts {
			for k := range v {
				c := v[pose.From[k]]
				if pose.Minus[k] {
					c = -c
				}
				lo[k], hi[k] = min(lo[k], c), max(hi[k], c)
			}
		}
	}
	for k := range 3 {
		switch {
		case s.Origin == recipe.OriginCorner || s.Origin == "" && k == up:
			pose.Move[k] = -lo[k]
		default:
			pose.Move[k] = -(lo[k] + hi[k]) / 2
		}
	}
	return pose, true
}
