package mend

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/recipe"
)

// moveShapes moves shapes by At[0].
func moveShapes(w *Work, m *recipe.Mend) error {
	return w.transform(m, geom.Translate(m.At[0][0], m.At[0][1]))
}

// turnShapes turns shapes by Turn degrees, clockwise on the screen, about At[0].
func turnShapes(w *Work, m *recipe.Mend) error {
	return w.transform(m, about(vec(m.At[0]), geom.Rotate(m.Turn*math.Pi/180)))
}

// mirrorShapes mirrors shapes at the upright line through At[0], or, with How
// "level", at the level one.
func mirrorShapes(w *Work, m *recipe.Mend) error {
	flip := geom.Scale(-1, 1)
	if m.How == "level" {
		flip = geom.Scale(1, -1)
	}
	return w.transform(m, about(vec(m.At[0]), flip))
}

func about(c geom.Vec, m geom.Matrix) geom.Matrix {
	return geom.Translate(c.X, c.Y).Mul(m).Mul(geom.Translate(-c.X, -c.Y))
}

func (w *Work) transform(m *recipe.Mend, by geom.Matrix) error {
	which, err := w.named(m)
	if err != nil {
		return err
	}
	clips := map[*artwork.Clip]*artwork.Clip{}
	for _, i := range which {
		w.Sheet.Shapes[i] = w.Sheet.Shapes[i].Moved(by, clips)
	}
	return nil
}
