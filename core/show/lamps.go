package show

import (
	"math"
	"slices"

	"bildhauer/core/curves"
	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// Setting returns the lamps of a ready setting around a piece that reaches so many mm from
// its middle.
func Setting(name string, reach float64) []recipe.Lamp {
	list := setting(name, reach)
	for i := range list { // figures that one can read
		l := &list[i]
		for k := range l.At {
			l.At[k] = math.Round(10*l.At[k]) / 10
		}
		for k := range l.Size {
			l.Size[k] = math.Round(10*l.Size[k]) / 10
		}
	}
	return list
}

func setting(name string, r float64) []recipe.Lamp {
	panel := func(what string, x, y, z, wide, high, strength, kelvin float64) recipe.Lamp {
		return recipe.Lamp{
			Kind: "panel", Name: what, At: [3]float64{x * r, y * r, z * r}, Size: [2]float64{wide * r, high * r},
			Strength: strength, Kelvin: kelvin,
		}
	}
	switch name {
	case "rims alone":
		return []recipe.Lamp{
			panel("Left rim", -2.6, 0.8, -1.6, 0.8, 3, 0.6, 5200), panel("Right rim", 2.6, 0.6, -1.6, 0.8, 3, 0.2, 7500),
		}
	case "from above":
		return []recipe.Lamp{panel("Above", 0, 3.4, 0.6, 2.6, 2.6, 0, 5600)}
	case "low evening":
		return []recipe.Lamp{
			{Kind: "sun", Name: "Sun", At: [3]float64{-3 * r, 0.7 * r, 1.6 * r}, Angle: 1.5, Strength: 0.2, Kelvin: 3200},
			panel("Evening sky", 2.4, 2.4, 1, 3, 3, -2, 9000),
		}
	case "none":
		return nil
	}
	return []recipe.Lamp{
		panel("Key", -2.6, 2.4, 2.2, 1.3, 1.3, -0.35, 5200), panel("Fill", 3, 0.8, 2.6, 2.4, 2.4, -2.6, 6500),
		panel("Rim", 1.4, 1.8, -2.8, 1.2, 2, -0.2, 6500),
	}
}

// LampsOf returns a copy of the lamps of a scene: its own, or those of its setting.
func LampsOf(s *recipe.Scene, reach float64) []recipe.Lamp {
	if len(s.Lamps) == 0 {
		return Setting(s.Setting, reach)
	}
	return slices.Clone(s.Lamps)
}

// lamps returns the lights of the lamps that are on.
func lamps(list []recipe.Lamp, middle geom.Vec3) []picture.Light {
	var out []picture.Light
	for i := range list {
		if l := &list[i]; !l.Off {
			out = append(out, lamp(l, middle))
		}
	}
	return out
}

// lamp returns a light that lights a white surface at its aim fully at a strength of 0.
func lamp(l *recipe.Lamp, middle geom.Vec3) picture.Light {
	in := func(p [3]float64) curves.Place {
		return curves.Place{p[0] + middle.X, p[1] + middle.Y, p[2] + middle.Z}
	}
	stance := curves.StanceOf(in(l.At), in(l.Aim), l.Size[0], l.Size[1])
	at, way, far := place(stance.At), place(stance.Way), stance.Far
	tint := picture.RGB{1, 1, 1}
	if l.Kelvin > 0 {
		tint = picture.Kelvin(l.Kelvin)
	}
	full := light(l.Color, tint).Times(math.Pi * math.Exp2(l.Strength))
	switch l.Kind {
	case "sun":
		return &picture.Sun{From: way.Times(-1), Angle: l.Angle / 2 * math.Pi / 180, Irradiance: full}
	case "spot":
		return &picture.Spot{
			At: at, Aim: way, Radius: l.Size[0] / 2, Angle: math.Max(1, l.Angle/2) * math.Pi / 180, Soft: 0.3,
			Intensity: full.Times(far * far),
		}
	}
	across, up := place(stance.Across), place(stance.Up)
	return &picture.Panel{
		Mid: at, Across: across, Up: up, Radiance: full.Times(far * far / (4 * across.Len() * up.Len())),
	}
}

func place(p [3]float64) geom.Vec3 { return geom.Vec3{X: p[0], Y: p[1], Z: p[2]} }
