package studio

import (
	"bytes"
	"context"
	"fmt"
	"image/png"

	"bildhauer/core/picture"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
)

// Shot is a picture that is asked for.
type Shot struct {
	Width   int     `json:"width"` // px
	Height  int     `json:"height"`
	Samples int     `json:"samples"` // of a pixel
	Frame   float64 `json:"frame"`
}

// The limits of a picture: what a screen of the largest sort shows, the memory that one may
// take, and more samples than anybody sees.
const (
	shotSide    = 8192
	shotBytes   = 1 << 30
	shotSamples = 4096
)

func (s *Shot) check() error {
	if s.Width < 1 || s.Height < 1 || s.Width > shotSide || s.Height > shotSide {
		return input("a picture is between 1 and %d pixels wide and high", shotSide)
	}
	if s.Samples < 1 || s.Samples > shotSamples {
		return input("a pixel has between 1 and %d samples", shotSamples)
	}
	if need := 4 * picture.FilmBytes(s.Width, s.Height); need > shotBytes {
		return input("a picture of %d by %d pixels takes %d MB of memory; there are %d MB",
			s.Width, s.Height, need>>20, shotBytes>>20)
	}
	return nil
}

// Picture makes a picture of a piece as a PNG file. It is the same for the same piece and
// shot.
func (s *Studio) Picture(ctx context.Context, p Piece, shot Shot) ([]byte, error) {
	if err := shot.check(); err != nil {
		return nil, err
	}
	line := s.line(ctx, p)
	made, err := line.Regions(ctx)
	if err != nil {
		return nil, err
	}
	bodies, err := line.Bodies(ctx, made.Value)
	if err != nil {
		return nil, err
	}
	sc := p.Recipe.Scene
	sc.Camera.Aspect = fmt.Sprintf("%d:%d", shot.Width, shot.Height)
	scene, exposure := show.Of(&sc, bodies, shot.Frame)
	film := picture.NewFilm(shot.Width, shot.Height, 1)
	for film.Samples() < shot.Samples {
		progress.Set(ctx, "Making the picture", float64(film.Samples())/float64(shot.Samples))
		if err := scene.Expose(ctx, film, min(2, shot.Samples-film.Samples())); err != nil {
			return nil, err
		}
		if film.Samples() >= 8 {
			if err := scene.Refine(ctx, film, 2); err != nil {
				return nil, err
			}
		}
	}
	contrast := picture.Contrast(sc.Contrast)
	if contrast == "" {
		contrast = picture.Contrast(recipe.Contrasts[0])
	}
	var out bytes.Buffer
	if err := png.Encode(&out, film.Filtered().Image(contrast, exposure)); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}
