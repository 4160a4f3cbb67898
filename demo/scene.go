package demo

import (
	"context"
	"fmt"

	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/studio"
)

// ready returns a ready material for a part of a colour.
func ready(part, faces, name string) recipe.Paint {
	for _, m := range show.Materials() {
		if m.Name == name {
			return recipe.Paint{Part: part, Faces: faces, Material: m}
		}
	}
	panic("demo: there is no material " + name)
}

var clockScene = recipe.Scene{
	Paints: []recipe.Paint{
		{Material: recipe.Material{Rough: 0.5, Coat: 0.6, CoatRough: 0.1}},
		ready(PartID("#b98a35"), "", "Polished brass"), ready(PartID(clockFace), "", "Enamel"),
		{Part: PartID("#2f737e"), Material: recipe.Material{Rough: 0.4, Coat: 1, CoatRough: 0.05, Drawn: true}},
		ready(PartID("#7a4b2a"), "", "Rubber"),
	},
	Backdrop: recipe.Backdrop{Kind: "clear", Shadow: true}, Camera: recipe.Camera{Turn: -20, Height: 9, Focal: 85, Margin: 0.09},
}

var badgeScene = recipe.Scene{
	Paints: []recipe.Paint{
		ready(PartID("#24404f"), "", "Blackened iron"), ready(PartID("#a9492b"), "", "Ship's lacquer"),
		ready(PartID("#c9973f"), "", "Gold leaf"), ready(PartID("#f1e7d3"), "", "Plaster"),
	},
	Surroundings: recipe.Surroundings{Name: "window room", Turn: 20}, Backdrop: recipe.Backdrop{Color: "#3f4a4b"},
	Camera: recipe.Camera{Turn: 26, Height: 14, Focal: 85, Blur: 4},
}

// show gives a piece its scene and, where it is an ident, its motion of five seconds: the
// hand sweeps, letters come one after the other, a light runs across.
func (p piece) show(ctx context.Context, s *studio.Studio, id string) error {
	change := func(label string, edits ...recipe.Edit) (studio.Piece, error) {
		return s.Change(ctx, id, studio.Latest, recipe.Change{Label: label, Edits: edits})
	}
	scene := *p.scene
	if !p.ident {
		_, err := change("Demo scene", &recipe.TakeScene{Scene: scene})
		return err
	}
	apart, list := letters()
	got, err := s.Change(ctx, id, studio.Latest, apart)
	if err != nil {
		return err
	}
	for _, id := range list {
		scene.Paints = append(scene.Paints, ready(id, "", "Blackened iron"))
	}
	shown, err := s.Shown(ctx, got, 0)
	if err != nil {
		return err
	}
	hand := PartID("#a9492b")
	for _, act := range []show.Act{
		{Move: "unroll from the left", Parts: list, From: 30, Frames: 32, Order: "in order", Delay: 7},
		{Move: "light sweep", From: 78, Frames: 46},
	} {
		if err := shown.Give(&scene, act); err != nil {
			return err
		}
	}
	for _, spot := range shown.Spots() {
		if spot.ID != hand {
			continue
		}
		mid := spot.Lo.Add(spot.Hi).Times(0.5)
		still := func(what string, v float64) recipe.Track {
			return recipe.Track{Of: hand, What: what, Keys: []recipe.Key{{Value: v}}}
		}
		// It turns about the middle of the clock, which is that of the piece.
		scene.Motion.Tracks = append(scene.Motion.Tracks, still("pivot right", -mid.X), still("pivot up", -mid.Y), recipe.Track{
			Of: hand, What: "lean", Keys: []recipe.Key{{Frame: 0, Value: -250, Ease: "overshoot"}, {Frame: 55, Value: 0}},
		})
	}
	if len(scene.Motion.Tracks) == 0 {
		return fmt.Errorf("nothing moves")
	}
	_, err = change("Demo scene", &recipe.TakeScene{Scene: scene})
	return err
}
