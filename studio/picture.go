package studio

import (
	"context"
	"fmt"

	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
)

// Shot is a picture that is asked for.
type Shot struct {
	Width   int     `json:"width"` // px
	Height  int     `json:"height"`
	Samples int     `json:"samples"` // of a pixel, with a quality at most; 0 for as many as that takes
	Quality string  `json:"quality"` // one of stages.Qualities; "" for the samples alone
	Frame   float64 `json:"frame"`
}

// The limits of a picture: its side as on the command line, the memory that one may take
// beside all else, and more samples than anybody sees.
const (
	shotSide    = 8192
	shotBytes   = WorkBytes
	shotSamples = 4096
)

func (s *Shot) check() error {
	if s.Width < 1 || s.Height < 1 || s.Width > shotSide || s.Height > shotSide {
		return input("a picture is between 1 and %d pixels wide and high", shotSide)
	}
	if _, err := s.goal(); err != nil {
		return err
	}
	if s.Samples < 1 && s.Quality == "" || s.Samples > shotSamples {
		return input("a pixel has between 1 and %d samples", shotSamples)
	}
	if need := picture.Bytes(s.Width, s.Height); need > shotBytes {
		return input("a picture of %d by %d pixels takes %d MB of memory, here there are %d; the command line makes larger ones",
			s.Width, s.Height, need>>20, shotBytes>>20)
	}
	return nil
}

// goal returns when the picture is good enough.
func (s *Shot) goal() (picture.Goal, error) {
	if s.Quality == "" {
		return picture.Goal{Samples: s.Samples}, nil
	}
	g, ok := stages.GoalOf(s.Quality)
	if !ok {
		return g, input("a picture is draft, good or final, not %.20q", s.Quality)
	}
	if s.Samples > 0 {
		g.Samples = min(g.Samples, s.Samples)
	}
	return g, nil
}

// Shown raises a piece as it is at a frame.
func (s *Studio) Shown(ctx context.Context, p Piece, frame float64) (stages.Shown, error) {
	line := s.line(ctx, p)
	made, err := line.Regions(ctx)
	if err != nil {
		return stages.Shown{}, err
	}
	return line.Shown(ctx, made.Value, frame)
}

// Lit is Shown for those who make pictures of it.
func (s *Studio) Lit(ctx context.Context, p Piece, frame float64) (stages.Shown, error) {
	line := s.line(ctx, p)
	made, err := line.Regions(ctx)
	if err != nil {
		return stages.Shown{}, err
	}
	return line.Lit(ctx, made.Value, frame)
}

// Picture makes a picture of a piece as a PNG file. It is the same for the same piece and
// shot.
func (s *Studio) Picture(ctx context.Context, p Piece, shot Shot) ([]byte, error) {
	if err := shot.check(); err != nil {
		return nil, err
	}
	shown, err := s.Lit(ctx, p, shot.Frame)
	if err != nil {
		return nil, err
	}
	goal, err := shot.goal()
	if err != nil {
		return nil, err
	}
	in := stages.PictureInput{Shown: shown, W: shot.Width, H: shot.Height, Goal: goal, Frame: shot.Frame}
	out, err := stages.Picture.Make(ctx, s.flights, in)
	return out.Value, err
}

// Seen is a piece as a view without a graphics card shows it: by its form, not by its scene.
type Seen struct {
	Shot
	Turn     float64    `json:"turn"` // as recipe.Camera has them
	Up       float64    `json:"up"`
	Distance float64    `json:"distance"`
	Focal    float64    `json:"focal"`
	Shift    [2]float64 `json:"shift"`
	Clay     bool       `json:"clay"` // all in one colour
}

// clay is what all parts are made of when only the form counts.
var clay = recipe.Material{Color: "#d8bfa4", Rough: 0.9}

// See makes a picture of a piece on clear ground as it stands, without the surfaces, lamps and motion
// of its scene.
func (s *Studio) See(ctx context.Context, p Piece, seen Seen) ([]byte, error) {
	p.Recipe = p.Recipe.Clone()
	scene := recipe.Scene{
		Backdrop: recipe.Backdrop{Kind: "clear", Shadow: true},
		Camera: recipe.Camera{
			Turn: seen.Turn, Height: seen.Up, Distance: seen.Distance, Focal: seen.Focal, Shift: seen.Shift,
			Aspect: fmt.Sprintf("%d:%d", seen.Width, seen.Height),
		},
	}
	if seen.Clay {
		scene.Paints = []recipe.Paint{{Material: clay}}
	}
	p.Recipe.Scene = scene
	if err := p.Recipe.Check(); err != nil {
		return nil, input("%v", err)
	}
	seen.Frame = 0
	return s.Picture(ctx, p, seen.Shot)
}
