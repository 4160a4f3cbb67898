package show

import (
	"math"
	"slices"
	"sync"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
)

// Surroundings are drawn from formulas: where soft boxes hang, how bright the sky is over
// the quay. A direction has x to the right, y up and z toward the eye. White is 1.

// skyWide is the resolution of surroundings: a third of a degree.
const skyWide = 1024

// sky returns what lights from all around; own is the panorama of own surroundings.
func sky(s *recipe.Surroundings, own *picture.Panorama) *picture.Sky {
	draw := map[string]func(geom.Vec3) picture.RGB{
		"": studio, "softbox studio": studio, "window room": room, "overcast quay": quay, "dusk": dusk,
	}[s.Name]
	if s.File != "" && own != nil {
		draw = own.Light
	}
	if draw == nil {
		return nil
	}
	return drawnSkies.get(skyKey{s.Name, s.File, s.Strength, own}, func() *picture.Sky {
		gain := math.Exp2(s.Strength)
		return picture.NewSky(skyWide, skyWide/2, 0, func(d geom.Vec3) picture.RGB { return draw(d).Times(gain) })
	}).Turned(s.Turn * math.Pi / 180)
}

// skyKey is what a sky is drawn from, but for its turn.
type skyKey struct {
	name, file string
	strength   float64
	own        *picture.Panorama
}

// skies keeps the last few that were drawn: all frames of a clip have the same one, and one
// takes as long to draw as a small frame.
type skies struct {
	mu   sync.Mutex
	keys []skyKey
	list []*picture.Sky
}

// drawnSkies holds some 8 MB for each of four.
var drawnSkies skies

func (k *skies) get(key skyKey, draw func() *picture.Sky) *picture.Sky {
	k.mu.Lock()
	defer k.mu.Unlock()
	if i := slices.Index(k.keys, key); i >= 0 {
		return k.list[i]
	}
	sky := draw()
	if len(k.keys) == 4 {
		k.keys, k.list = k.keys[1:], k.list[1:]
	}
	k.keys, k.list = append(slices.Clone(k.keys), key), append(slices.Clone(k.list), sky)
	return sky
}

// box returns 1 within a rectangle of the sphere of directions and 0 outside, softly at its
// edge: middle and half sizes in degrees.
func softbox(d geom.Vec3, turn, height, wide, high, soft float64) float64 {
	a := math.Atan2(d.X, d.Z)*180/math.Pi - turn
	a -= 360 * math.Round(a/360)
	b := math.Asin(math.Max(-1, math.Min(1, d.Y)))*180/math.Pi - height
	return step((wide-math.Abs(a))/soft) * step((high-math.Abs(b))/soft)
}

// step goes softly from 0 at -1 to 1 at 1.
func step(v float64) float64 {
	v = math.Max(0, math.Min(1, (v+1)/2))
	return v * v * (3 - 2*v)
}

func grey(l float64) picture.RGB { return picture.RGB{l, l, l} }

// studio is a dim room with soft boxes to the left, to the right and overhead.
func studio(d geom.Vec3) picture.RGB {
	walls := grey(0.05 + 0.04*d.Y)
	boxes := grey(1.5).Times(softbox(d, -62, 28, 24, 26, 2)).
		Plus(grey(0.6).Times(softbox(d, 70, 18, 14, 40, 2))).
		Plus(grey(1.2).Times(softbox(d, 180, 40, 46, 8, 2)))
	over := grey(0.9).Times(step((d.Y - 0.86) / 0.03))
	return walls.Plus(boxes).Plus(over)
}

// room has one tall window with bars on the left and pale walls.
func room(d geom.Vec3) picture.RGB {
	walls := picture.RGB{0.3, 0.27, 0.23}.Times(0.6 + 0.4*d.Y)
	if d.Y < -0.3 {
		walls = picture.RGB{0.16, 0.11, 0.07}
	}
	pane := 0.0
	for _, t := range []float64{-79, -61} {
		for _, h := range []float64{2, 20, 38} {
			pane = math.Max(pane, softbox(d, t, h, 8, 8, 0.8))
		}
	}
	return walls.Plus(picture.RGB{4.6, 5, 5.6}.Times(pane))
}

// quay is an even sky, brighter overhead, over a grey quay and a line of water.
func quay(d geom.Vec3) picture.RGB {
	if d.Y < -0.02 {
		return picture.RGB{0.16, 0.17, 0.17}.Times(1 + 0.6*d.Y)
	}
	if d.Y < 0.03 {
		return picture.RGB{0.34, 0.4, 0.44}
	}
	// The overcast sky of the CIE: a third as bright at the horizon as overhead.
	return picture.RGB{0.92, 0.98, 1.06}.Times(1.2 * (1 + 2*d.Y) / 3)
}

// dusk is a warm band behind the left, a blue sky above and dark ground.
func dusk(d geom.Vec3) picture.RGB {
	if d.Y < 0 {
		return picture.RGB{0.03, 0.03, 0.04}
	}
	sky := picture.RGB{0.1, 0.16, 0.34}.Times(0.4 + 0.6*math.Exp(-2*d.Y))
	west := math.Exp(-math.Pow(math.Abs(d.Y)/0.14, 1.3)) * math.Pow(math.Max(0, (1-d.X)/2), 1.5)
	return sky.Plus(picture.RGB{3.4, 1.35, 0.45}.Times(west))
}
