package mesh

import "math"

// Rotated returns the mesh leant back by tilt degrees about its x axis and then turned by turn
// degrees about z, both through the origin. Points are rounded to the grid, which keeps a
// closed mesh closed; faces may then lie a grid unit off their plane. Normals are left out.
func Rotated(m *Mesh, tilt, turn float64) *Mesh {
	out := *m
	out.Normals = nil
	out.Verts = make([][3]int32, len(m.Verts))
	for i, v := range m.Verts {
		p := Rotate([3]float64{float64(v[0]), float64(v[1]), float64(v[2])}, tilt, turn)
		for k := range 3 {
			out.Verts[i][k] = int32(math.Round(p[k]))
		}
	}
	return &out
}

// Rotate turns one place as Rotated does.
func Rotate(p [3]float64, tilt, turn float64) [3]float64 {
	s, c := math.Sincos(tilt * math.Pi / 180)
	p[1], p[2] = p[1]*c-p[2]*s, p[1]*s+p[2]*c
	s, c = math.Sincos(turn * math.Pi / 180)
	p[0], p[1] = p[0]*c-p[1]*s, p[0]*s+p[1]*c
	return p
}

// RotateBack undoes Rotate.
func RotateBack(p [3]float64, tilt, turn float64) [3]float64 {
	return Rotate(Rotate(p, 0, -turn), -tilt, 0)
}
