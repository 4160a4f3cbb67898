package stages

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/write"
)

// FilmOf returns how parts are shown, for files that carry it; nil where nobody has decided
// anything. Parts are as they were raised, size tells how they will lie.
func FilmOf(s *recipe.Scene, parts []write.Part, size *recipe.Size) *write.Film {
	if len(parts) == 0 || !s.Decided() {
		return nil
	}
	laid := picture.Pose{Rows: [3]geom.Vec3{{X: 1}, {Y: 1}, {Z: 1}}, Size: 1, Shown: true}
	if p, ok := placing(parts, size, true); ok {
		laid = laidBy(p, parts[0].Mesh.Step)
	}
	bodies := make([]show.Body, len(parts))
	for i := range parts {
		bodies[i] = show.Body{Mesh: parts[i].Mesh, Owners: []show.Owner{{ID: parts[i].Moves}}}
		bodies[i].Rest[0], bodies[i].Rest[1] = parts[i].Mesh.Box()
	}
	out := &write.Film{Rate: float64(s.Motion.PerSecond()), Parts: make([][]write.Stand, len(parts))}
	frames := 1
	if len(s.Motion.Tracks) > 0 {
		frames = max(1, s.Motion.Frames)
	}
	clock := show.NewClock(s, bodies)
	for n := range frames {
		t := clock.At(float64(n))
		if n == 0 {
			ratio, _ := t.Scene.Camera.Ratio()
			out.Lens = [2]float64{2 * math.Atan(18/t.Camera.Focal/ratio), ratio}
		}
		for i := range parts {
			out.Parts[i] = append(out.Parts[i], moved(&laid, &t.Poses[i]))
		}
		ahead, right, up := t.Camera.Axes()
		out.Camera = append(out.Camera, stand(&laid, right, up, ahead.Times(-1), t.Camera.Eye))
		lampsAt(out, &laid, t, n == 0)
	}
	return out
}

// moved is where a part that is laid down stands when it has moved in the scene: brought
// back to how it was raised, moved there, and laid down again.
func moved(laid, pose *picture.Pose) write.Stand {
	back := picture.Pose{Size: 1, Shown: true}
	back.Rows = transposed(laid.Rows) // the inverse of a rotation
	back.By = back.Turned(laid.By).Times(-1)
	all := laid.After(pose.After(back))
	out := write.Stand{Turn: quaternion(all.Rows), Size: all.Size, At: [3]float64{all.By.X, all.By.Y, all.By.Z}}
	if !all.Shown {
		out.Size = 0
	}
	return out
}

func transposed(r [3]geom.Vec3) [3]geom.Vec3 {
	return [3]geom.Vec3{{X: r[0].X, Y: r[1].X, Z: r[2].X}, {X: r[0].Y, Y: r[1].Y, Z: r[2].Y}, {X: r[0].Z, Y: r[1].Z, Z: r[2].Z}}
}

// stand is where something with three axes stands.
func stand(laid *picture.Pose, x, y, z, at geom.Vec3) write.Stand {
	x, y, z, at = laid.Turned(x), laid.Turned(y), laid.Turned(z), laid.At(at)
	rows := transposed([3]geom.Vec3{x, y, z})
	return write.Stand{Turn: quaternion(rows), Size: 1, At: [3]float64{at.X, at.Y, at.Z}}
}

// squareMetres is how much of a square metre a square millimetre is.
const squareMetres = 1e-6

// lampsAt adds where lamps are at a frame. A panel becomes a spot that shines over half of
// all directions, as strong as the panel straight ahead.
func lampsAt(out *write.Film, laid *picture.Pose, t *show.Still, first bool) {
	n := 0
	for _, light := range t.Lights() {
		var one write.Lamp
		var strength picture.RGB
		var way, at geom.Vec3
		switch l := light.(type) {
		case *picture.Panel:
			way, at = l.Across.Cross(l.Up).Unit(), l.Mid
			strength = l.Radiance.Times(4 * l.Across.Len() * l.Up.Len() * squareMetres)
			one.Kind, one.Outer = "spot", math.Pi/2
		case *picture.Spot:
			way, at, strength = l.Aim, l.At, l.Intensity.Times(squareMetres)
			one.Kind, one.Inner, one.Outer = "spot", l.Angle*(1-l.Soft), math.Min(math.Pi/2, l.Angle)
		case *picture.Sun:
			way, at, strength = l.From.Times(-1), t.Middle.Plus(3*t.Reach, l.From), l.Irradiance
			one.Kind = "directional"
		default:
			continue
		}
		x, _ := way.Frame()
		s := stand(laid, x, x.Cross(way), way.Times(-1), at)
		if first {
			one.Strength = strength.Max()
			one.Color = [3]float64(strength.Times(1 / math.Max(one.Strength, 1e-12)))
			one.Name = lampName(t, n)
			out.Lamps = append(out.Lamps, one)
		}
		out.Lamps[n].At = append(out.Lamps[n].At, s)
		n++
	}
}

// lampName is the name of the n-th lamp that is on.
func lampName(t *show.Still, n int) string {
	for _, l := range t.Scene.Lamps {
		if l.Off {
			continue
		}
		if n == 0 {
			return l.Name
		}
		n--
	}
	return "lamp"
}

// laidBy is a pose of the grid as one of millimetres.
func laidBy(p mesh.Pose, step float64) picture.Pose {
	out := picture.Pose{Size: 1, Shown: true}
	axes := [3]geom.Vec3{{X: 1}, {Y: 1}, {Z: 1}}
	for k := range 3 {
		out.Rows[k] = axes[p.From[k]]
		if p.Minus[k] {
			out.Rows[k] = out.Rows[k].Times(-1)
		}
	}
	out.By = geom.Vec3{X: float64(p.Move[0]), Y: float64(p.Move[1]), Z: float64(p.Move[2])}.Times(step)
	return out
}

// quaternion of a rotation's rows (Shepperd, Quaternion from rotation matrix, 1978): from
// the largest of its parts, so that nothing small is divided by.
func quaternion(r [3]geom.Vec3) [4]float64 {
	t := r[0].X + r[1].Y + r[2].Z
	var q [4]float64
	switch {
	case t > r[0].X && t > r[1].Y && t > r[2].Z:
		q = [4]float64{r[2].Y - r[1].Z, r[0].Z - r[2].X, r[1].X - r[0].Y, 1 + t}
	case r[0].X > r[1].Y && r[0].X > r[2].Z:
		q = [4]float64{1 + r[0].X - r[1].Y - r[2].Z, r[0].Y + r[1].X, r[0].Z + r[2].X, r[2].Y - r[1].Z}
	case r[1].Y > r[2].Z:
		q = [4]float64{r[0].Y + r[1].X, 1 + r[1].Y - r[0].X - r[2].Z, r[1].Z + r[2].Y, r[0].Z - r[2].X}
	default:
		q = [4]float64{r[0].Z + r[2].X, r[1].Z + r[2].Y, 1 + r[2].Z - r[0].X - r[1].Y, r[1].X - r[0].Y}
	}
	n := math.Sqrt(q[0]*q[0] + q[1]*q[1] + q[2]*q[2] + q[3]*q[3])
	for i := range q {
		q[i] /= n
	}
	return q
}
