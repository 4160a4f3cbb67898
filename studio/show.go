package studio

import (
	"context"
	"math"

	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/stages"
	"bildhauer/store"
)

// liveFrames bounds how many frames are told at once, and liveThings how many things in all of
// them: some 20 MB as text. Of a piece in thousands of parts fewer frames are told.
const (
	liveFrames = 400
	liveThings = 100_000
)

// Live is what a piece shows at some frames, for views that are drawn while one works.
type Live struct {
	Shown  stages.Shown // at the first frame
	Stills []*show.Still
}

// Live returns a piece at the frames from to to.
func (s *Studio) Live(ctx context.Context, p Piece, from, to float64) (*Live, error) {
	if from < 0 || to < from || to-from >= liveFrames {
		return nil, input("up to %d frames are told at once", liveFrames)
	}
	// Poses go by the piece at rest, so nothing needs to be raised anew for each frame.
	rest := p
	rest.Recipe.Scene.Motion.Tracks = nil
	shown, err := s.Shown(ctx, rest, from)
	if err != nil {
		return nil, err
	}
	shown.Scene = p.Recipe.Scene
	out := &Live{Shown: shown}
	to = min(to, from+math.Floor(liveThings/float64(1+4*len(shown.MasksOf()))))
	clock := shown.Clock()
	for f := from; f <= to; f++ {
		out.Stills = append(out.Stills, clock.At(f))
	}
	return out, nil
}

// Ambience returns what lights a piece from all around at a frame.
func (s *Studio) Ambience(ctx context.Context, p Piece, frame float64) (*picture.Ambience, error) {
	live, err := s.Live(ctx, p, frame, frame)
	if err != nil {
		return nil, err
	}
	made, err := stages.Ambience.Make(ctx, s.flights, live.Shown.AmbienceInput(frame))
	return made.Value, err
}

// How large the picture of a material may be, px.
const (
	leastSample = 8
	mostSample  = 132
)

// Sample returns a small picture of a material as a PNG file.
func (s *Studio) Sample(ctx context.Context, m recipe.Material, px int) ([]byte, error) {
	if px < leastSample || px > mostSample {
		return nil, input("the picture of a material has %d to %d px", leastSample, mostSample)
	}
	r := recipe.New()
	r.Scene.Paints = []recipe.Paint{{Material: m}}
	if err := r.Check(); err != nil {
		return nil, input("%v", err)
	}
	m.Name, m.Drawn = "", false
	made, err := stages.Sample.Make(ctx, s.flights, stages.SampleInput{Material: m, Size: px})
	return made.Value, err
}

// GiveMove adds a ready move to a piece, or one that was kept, of which kept is the name.
func (s *Studio) GiveMove(ctx context.Context, id string, base int64, a show.Act, kept string) (Piece, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return p, err
	}
	if kept != "" {
		m, err := s.Move(ctx, kept)
		if err != nil {
			return p, err
		}
		a.Move, a.Kept = kept, &m.Motion
	}
	rest := p
	rest.Recipe.Scene.Motion = recipe.Motion{}
	shown, err := s.Shown(ctx, rest, 0)
	if err != nil {
		return p, err
	}
	scene := p.Recipe.Clone().Scene
	if err := shown.Give(&scene, a); err != nil {
		return p, input("%v", err)
	}
	set := &recipe.SetScene{Motion: &scene.Motion}
	if len(scene.Lamps) > 0 {
		set.Lamps = &scene.Lamps
	}
	return s.Change(ctx, id, base, recipe.Change{Label: "Move: " + a.Move, Edits: []recipe.Edit{set}})
}

// AddSurroundings takes a panorama as what is all around a piece.
func (s *Studio) AddSurroundings(ctx context.Context, id string, base int64, f File) (Piece, error) {
	name := cleanName(f.Name)
	if _, err := stages.PanoramaOf(name, f.Data); err != nil {
		return Piece{}, input("the file %v", err)
	}
	p, err := s.Piece(ctx, id)
	if err != nil {
		return p, err
	}
	file := store.File{Kind: store.Panorama, ID: newID(), Name: name, Data: f.Data}
	if err := s.store.AddFile(ctx, p.ID, file); err != nil {
		return p, err
	}
	around := p.Recipe.Scene.Surroundings
	around.File, around.Name = file.ID, name
	change := recipe.Change{Label: "Surroundings " + name, Edits: []recipe.Edit{&recipe.SetScene{Surroundings: &around}}}
	return s.changeWith(ctx, id, base, file.ID, change)
}
