package stages

import (
	"context"
	"fmt"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/parallel"
	"bildhauer/core/picture"
	"bildhauer/core/raise"
	"bildhauer/core/read/panorama"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
)

// Shown is a piece to be shown.
type Shown struct {
	Bodies []ShownBody
	Scene  recipe.Scene
	Own    Made[*picture.Panorama] // of own surroundings; its key is "" for none
	Masks  []string                // ids of all parts at rest; nil for those that are shown
}

// ShownBody is a body and whose faces it has.
type ShownBody struct {
	Solid  Made[*Solid]
	Owners []ShownOwner      // by Mesh.Part
	Rest   [2][3]float64     // the box that it fills at rest
	Shape  Made[*show.Shape] // of the solid; only Lit makes it
}

// ShownOwner is a part whose faces a body has.
type ShownOwner struct {
	ID      string
	Color   artwork.Color
	Drawing []Drawn // the gradients of its artwork, the topmost first
	Layer   string  // key of the outermost group of its first shape; "" for none
	Page    Page
}

// Drawn is a gradient and the box of the shape that it fills, px of the page.
type Drawn struct {
	Gradient artwork.Gradient
	Box      geom.Box
}

// Page tells where the middle of a piece is on the page of its artwork.
type Page struct {
	Center  geom.Vec // px
	PxPerMM float64
	Stretch float64 // of the height beyond that
}

// At returns the colour of the gradients at a place of the piece at rest.
func (o *ShownOwner) At(p geom.Vec3) picture.RGB {
	q := geom.Vec{X: o.Page.Center.X + p.X*o.Page.PxPerMM, Y: o.Page.Center.Y - p.Y*o.Page.PxPerMM/o.Page.Stretch}
	best := &o.Drawing[0]
	for i := range o.Drawing {
		if b := o.Drawing[i].Box; q.X >= b.Min.X && q.X <= b.Max.X && q.Y >= b.Min.Y && q.Y <= b.Max.Y {
			best = &o.Drawing[i]
			break
		}
	}
	c, _ := best.Gradient.At(q)
	return show.LightOf(c)
}

// owner returns a part of the regions as the owner of faces.
func owner(r *Regions, part int) ShownOwner {
	o := &r.Parts[part]
	out := ShownOwner{ID: o.ID, Color: o.Color, Page: Page{r.Center, r.PxPerMM, r.Stretch}}
	for i := len(o.Shapes) - 1; i >= 0; i-- {
		if sh := &r.Sheet.Shapes[o.Shapes[i]]; sh.Gradient != nil && len(sh.Gradient.Stops) > 0 {
			out.Drawing = append(out.Drawing, Drawn{*sh.Gradient, sh.Box()})
		}
	}
	if len(o.Shapes) > 0 {
		for g := r.Sheet.Shapes[o.Shapes[0]].Group; g >= 0; g = r.Sheet.Groups[g].Parent {
			out.Layer = r.Sheet.Groups[g].Key
		}
	}
	return out
}

// Shown raises all bodies of a piece as they are at a frame. Errors are those of raising.
func (l *Line) Shown(ctx context.Context, r *Regions, frame float64) (Shown, error) {
	out := Shown{Scene: l.Recipe.Scene}
	var err error
	if out.Own, err = l.panorama(ctx); err != nil {
		return out, err
	}
	if out.Bodies, err = l.bodies(ctx, r); err != nil {
		return out, err
	}
	then, changed, err := l.Grown(ctx, r, frame)
	if err != nil || changed == r {
		return out, err
	}
	list, err := then.bodies(ctx, changed)
	if err != nil {
		return out, err
	}
	for i := range list {
		list[i].Rest = out.Bodies[i].Rest
	}
	out.Masks, out.Bodies = out.MasksOf(), list
	return out, nil
}

// bodies raises all bodies as the recipe says.
func (l *Line) bodies(ctx context.Context, r *Regions) ([]ShownBody, error) {
	list := Arrangement(r, &l.Recipe.Parts)
	if len(list) == 0 {
		return nil, problem(AllLeftOut)
	}
	out := make([]ShownBody, len(list))
	err := parallel.Each(len(list), func(i int) (err error) {
		if out[i].Solid, err = l.Body(ctx, r, &list[i], raise.Shaded); err != nil {
			return err
		}
		out[i].Rest[0], out[i].Rest[1] = out[i].Solid.Value.Mesh.Box()
		for _, k := range append([]int{list[i].Index}, list[i].Details...) {
			out[i].Owners = append(out[i].Owners, owner(r, k))
		}
		return nil
	})
	return out, err
}

// ShapeInput is a solid that pictures are made of.
type ShapeInput struct{ Solid Made[*Solid] }

// ShapeOf makes what light meets of a solid: frames in which it does not grow share it.
var ShapeOf = Stage[ShapeInput, *show.Shape]{
	Name: "shape",
	Run: func(_ context.Context, in ShapeInput) (*show.Shape, error) {
		return show.ShapeOf(in.Solid.Value.Mesh), nil
	},
	Size: (*show.Shape).Bytes,
	Need: func(in ShapeInput) int64 { return 6 * in.Solid.Value.Mesh.Bytes() },
}

// PanoramaInput is a file of own surroundings.
type PanoramaInput struct {
	File Source
	Name string
}

// panoramaWide is how wide own surroundings are kept: a third of a degree, as ready ones.
const panoramaWide = 1024

// Panorama reads own surroundings.
var Panorama = Stage[PanoramaInput, *picture.Panorama]{
	Name: "panorama",
	Run: func(_ context.Context, in PanoramaInput) (*picture.Panorama, error) {
		data, err := in.File.Load()
		if err != nil {
			return nil, err
		}
		return PanoramaOf(in.Name, data)
	},
	Size: (*picture.Panorama).Bytes,
	Need: func(PanoramaInput) int64 { return panorama.MaxSide * panorama.MaxSide / 2 * 40 },
}

// PanoramaOf reads own surroundings from bytes.
func PanoramaOf(name string, data []byte) (*picture.Panorama, error) {
	p, err := panorama.Read(data)
	if err != nil {
		return nil, fmt.Errorf("%s %w", name, err)
	}
	return (&picture.Panorama{W: p.W, H: p.H, Pix: p.Pix}).Smaller(panoramaWide), nil
}

func (l *Line) panorama(ctx context.Context) (out Made[*picture.Panorama], err error) {
	s := &l.Recipe.Scene.Surroundings
	if s.File == "" {
		return out, nil
	}
	return Panorama.Make(ctx, l.Keep, PanoramaInput{l.Open(s.File), s.Name})
}

// Shapes returns the bodies as show takes them; masks are numbered as MasksOf lists them.
func (s *Shown) Shapes() []show.Body {
	mask := map[string]int{}
	for i, id := range s.MasksOf() {
		mask[id] = i + 1
	}
	out := make([]show.Body, len(s.Bodies))
	for i := range s.Bodies {
		b := &s.Bodies[i]
		out[i].Mesh, out[i].Shape, out[i].Rest = b.Solid.Value.Mesh, b.Shape.Value, b.Rest
		for k := range b.Owners {
			o := &b.Owners[k]
			one := show.Owner{ID: o.ID, Color: o.Color, Mask: mask[o.ID]}
			if len(o.Drawing) > 0 {
				one.Drawn = o.At
			}
			out[i].Owners = append(out[i].Owners, one)
		}
	}
	return out
}

// Lit is Shown for those who make pictures: with what light meets of the bodies, which otherwise each picture makes
// anew.
func (l *Line) Lit(ctx context.Context, r *Regions, frame float64) (Shown, error) {
	out, err := l.Shown(ctx, r, frame)
	if err != nil {
		return out, err
	}
	return out, parallel.Each(len(out.Bodies), func(i int) (err error) {
		b := &out.Bodies[i]
		b.Shape, err = ShapeOf.Make(ctx, l.Keep, ShapeInput{b.Solid})
		return err
	})
}

// MasksOf returns the ids of all parts of the piece, in their order: at some frame one may not be there.
func (s *Shown) MasksOf() []string {
	if s.Masks != nil {
		return s.Masks
	}
	var out []string
	for i := range s.Bodies {
		for _, o := range s.Bodies[i].Owners {
			out = append(out, o.ID)
		}
	}
	return out
}

// SceneAt returns the scene at a frame, and its exposure in stops.
func (s *Shown) SceneAt(frame float64) (*picture.Scene, float64) {
	return show.Of(&s.Scene, s.Shapes(), s.Own.Value, frame)
}

// Clock tells of the scene at any frame without its solids.
func (s *Shown) Clock() *show.Clock { return show.NewClock(&s.Scene, s.Shapes()) }

// StillAt does so of one.
func (s *Shown) StillAt(frame float64) *show.Still { return s.Clock().At(frame) }

// Spots tells where bodies are at rest.
func (s *Shown) Spots() []show.Spot {
	out := show.Spots(s.Shapes())
	for i := range out {
		out[i].Layer = s.Bodies[i].Owners[0].Layer
	}
	return out
}

// Give adds a ready move, see show.Give.
func (s *Shown) Give(scene *recipe.Scene, a show.Act) error { return show.Give(scene, s.Spots(), a) }
