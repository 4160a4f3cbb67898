package stages

import (
	"bytes"
	"context"
	"fmt"
	"image/png"

	"bildhauer/core/artwork"
	"bildhauer/core/parallel"
	"bildhauer/core/picture"
	"bildhauer/core/progress"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
)

// ShownBody is a body and whose faces it has.
type ShownBody struct {
	Solid  Made[*Solid]
	Owners []ShownOwner // by Mesh.Part
}

// ShownOwner is a part whose faces a body has.
type ShownOwner struct {
	ID    string
	Color artwork.Color
}

// Bodies raises all bodies of a piece to be shown. Errors are those of raising.
func (l *Line) Bodies(ctx context.Context, r *Regions) ([]ShownBody, error) {
	list := Arrangement(r, &l.Recipe.Parts)
	if len(list) == 0 {
		return nil, problem(AllLeftOut)
	}
	out := make([]ShownBody, len(list))
	err := parallel.Each(len(list), func(i int) (err error) {
		if out[i].Solid, err = l.Body(ctx, r, &list[i], raise.Shaded); err != nil {
			return err
		}
		for _, k := range append([]int{list[i].Index}, list[i].Details...) {
			out[i].Owners = append(out[i].Owners, ShownOwner{r.Parts[k].ID, r.Parts[k].Color})
		}
		return nil
	})
	return out, err
}

// SceneOf returns the scene of bodies at a frame, and its exposure in stops.
func SceneOf(s *recipe.Scene, list []ShownBody, frame float64) (*picture.Scene, float64) {
	bodies := make([]show.Body, len(list))
	for i, b := range list {
		bodies[i].Mesh = b.Solid.Value.Mesh
		for _, o := range b.Owners {
			bodies[i].Owners = append(bodies[i].Owners, show.Owner{ID: o.ID, Color: o.Color})
		}
	}
	return show.Of(s, bodies, frame)
}

// PictureInput is what a picture is made of.
type PictureInput struct {
	Bodies  []ShownBody
	Scene   recipe.Scene
	W, H    int // px
	Samples int // of a pixel
	Frame   float64
}

// Picture makes a picture as a PNG file.
var Picture = Stage[PictureInput, []byte]{
	Name: "picture",
	Run:  makePicture,
	Size: func(b []byte) int64 { return int64(len(b)) },
	Need: func(in PictureInput) int64 {
		n := picture.Bytes(in.W, in.H)
		for _, b := range in.Bodies {
			n += 2 * b.Solid.Value.Mesh.Bytes()
		}
		return n
	},
}

func makePicture(ctx context.Context, in PictureInput) ([]byte, error) {
	in.Scene.Camera.Aspect = fmt.Sprintf("%d:%d", in.W, in.H)
	scene, exposure := SceneOf(&in.Scene, in.Bodies, in.Frame)
	film := picture.NewFilm(in.W, in.H, 1)
	err := scene.Make(ctx, film, in.Samples, func(have int) bool {
		progress.Set(ctx, "Making the picture", float64(have)/float64(in.Samples))
		return true
	})
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = png.Encode(&out, film.Filtered().Image(picture.ContrastOf(in.Scene.Contrast), exposure))
	return out.Bytes(), err
}
