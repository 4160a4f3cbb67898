package web

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/write"
)

// coarse leaves out detail of a region finer than tol mm.
func coarse(r plane.Region, step plane.Step, tol float64) plane.Region {
	return r.Simplify(step.Units(tol))
}

func boxOf(b geom.Box) [4]float64 { return [4]float64{b.Min.X, b.Min.Y, b.W(), b.H()} }

// clipUpTo is up to how many nodes a shape is drawn as its clips leave it; what
// is larger is drawn whole, for a picture is not worth the time.
const clipUpTo = 50_000

// shapePath writes the outline of a shape in page px, cut by its clips.
func shapePath(sh *artwork.Shape, tol float64) string {
	var b []byte
	if len(sh.Clips) > 0 && sh.Nodes() < clipUpTo {
		r := sh.Reach()
		far := math.Max(
			math.Max(math.Abs(r.Min.X), math.Abs(r.Max.X)),
			math.Max(math.Abs(r.Min.Y), math.Abs(r.Max.Y)),
		)
		grid := math.Max(far, 1e-6) / (1 << 23)
		if region, err := write.Resolve(sh, tol, grid); err == nil {
			at := func(p plane.Point) geom.Vec { return geom.Vec{X: float64(p.X) * grid, Y: float64(p.Y) * grid} }
			return string(write.RegionPath(nil, region, at, write.Short))
		}
	}
	for _, l := range sh.Outline(tol) {
		b = write.LoopPath(b, len(l), func(i int) geom.Vec { return l[i] }, write.Short)
	}
	return string(b)
}

// sentence makes an error a sentence.
func sentence(err error) string { return sentenceOf(err.Error()) }

func sentenceOf(s string) string {
	return strings.ToUpper(s[:1]) + s[1:] + "."
}
