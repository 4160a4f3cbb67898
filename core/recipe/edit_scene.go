package recipe

import (
	"errors"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/terms"
)

// SetScene changes how the piece is shown; what is nil stays.
type SetScene struct {
	Lamps        *[]Lamp       `json:"lamps"`
	Setting      *string       `json:"setting"`
	Own          *[]Material   `json:"own"`
	Cameras      *[]Camera     `json:"cameras"`
	Surroundings *Surroundings `json:"surroundings"`
	Backdrop     *Backdrop     `json:"backdrop"`
	Camera       *Camera       `json:"camera"`
	Motion       *Motion       `json:"motion"`
	Exposure     *float64      `json:"exposure"`
	Contrast     *string       `json:"contrast"`
}

// Apply is part of Edit.
func (e *SetScene) Apply(r *Recipe, _ *artwork.Sheet) error {
	s := &r.Scene
	give(e.Lamps, &s.Lamps)
	give(e.Setting, &s.Setting)
	give(e.Own, &s.Own)
	give(e.Cameras, &s.Cameras)
	give(e.Surroundings, &s.Surroundings)
	give(e.Backdrop, &s.Backdrop)
	give(e.Camera, &s.Camera)
	give(e.Motion, &s.Motion)
	give(e.Exposure, &s.Exposure)
	give(e.Contrast, &s.Contrast)
	return nil
}

// TakeScene shows the piece in another way altogether.
type TakeScene struct {
	Scene Scene `json:"scene"`
}

// Apply is part of Edit.
func (e *TakeScene) Apply(r *Recipe, _ *artwork.Sheet) error {
	r.Scene = e.Scene.clone()
	return nil
}

// PaintFaces gives faces of parts a material; without one they lose theirs.
type PaintFaces struct {
	Parts    []string  `json:"parts"` // none for all
	Faces    string    `json:"faces"` // "" for all
	Material *Material `json:"material"`
}

// Apply is part of Edit.
func (e *PaintFaces) Apply(r *Recipe, _ *artwork.Sheet) error {
	if !slices.Contains(terms.Names("faces"), e.Faces) {
		return errors.New("faces are front, bevel, side or back")
	}
	parts := e.Parts
	if len(parts) == 0 {
		parts = []string{""}
	}
	for _, id := range parts {
		covered := func(p Paint) bool {
			return (id == "" || p.Part == id) && (e.Faces == "" || p.Faces == e.Faces)
		}
		r.Scene.Paints = slices.DeleteFunc(r.Scene.Paints, covered)
		if e.Material != nil {
			r.Scene.Paints = append(r.Scene.Paints, Paint{id, e.Faces, *e.Material})
		}
	}
	return nil
}
