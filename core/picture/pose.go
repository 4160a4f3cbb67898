package picture

import (
	"math"

	"bildhauer/core/geom"
)

// Pose is where something is that has moved: v is at Size * Rows v + By.
type Pose struct {
	Rows  [3]geom.Vec3 // of the rotation
	By    geom.Vec3    // mm
	Size  float64
	Shown bool
}

// Turned returns how a direction lies now.
func (p *Pose) Turned(v geom.Vec3) geom.Vec3 {
	return geom.Vec3{X: p.Rows[0].Dot(v), Y: p.Rows[1].Dot(v), Z: p.Rows[2].Dot(v)}
}

// At returns where a place at rest has moved.
func (p *Pose) At(v geom.Vec3) geom.Vec3 { return p.Turned(v).Times(p.Size).Add(p.By) }

// TurnedBack returns how a direction lay at rest.
func (p *Pose) TurnedBack(d geom.Vec3) geom.Vec3 {
	return p.Rows[0].Times(d.X).Plus(d.Y, p.Rows[1]).Plus(d.Z, p.Rows[2])
}

// Back returns where a place was at rest.
func (p *Pose) Back(v geom.Vec3) geom.Vec3 {
	return p.TurnedBack(v.Sub(p.By)).Times(1 / math.Max(p.Size, 1e-9))
}

// After returns the pose of what has the pose q within something that has this one.
func (p Pose) After(q Pose) Pose {
	out := Pose{By: p.At(q.By), Size: p.Size * q.Size, Shown: p.Shown && q.Shown}
	for i, r := range p.Rows {
		out.Rows[i] = q.TurnedBack(r)
	}
	return out
}
