package stages

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
	"bildhauer/core/recipe"
)

// A tube follows the line of a stroke: bevels in front and behind that run outward from a
// stroke so thin that it is the line, as far as half of the width; so it is a pipe at bends
// and crossings, too. With a profile of its own it is the stroke's outline, bevelled inward.
// Strokes of different widths are limbs of one body, with their middles in one plane. For a
// flat end the stroke is drawn longer than it is by half its width, so that distances from
// its end do not count, and cut off where it ends.

// hairline is how wide, in grid units, the stroke is that stands for a line: no ring lies
// nearer to another one.
const hairline = 100

// TubeRule is how a part's strokes become tubes.
type TubeRule struct {
	ID    string
	Width float64 // mm; 0 for that of the artwork
	Ends  string  // recipe.RoundEnds, recipe.FlatEnds or "" for those of the artwork
	Own   bool    // its section is the part's own profile
}

// Limb is the strokes of one width of a tube.
type Limb struct {
	Width  float64 // mm
	Region Made[plane.Region]
}

// tubed returns a shape as its tube is drawn: the stroke that it has, or one along its
// outline where a width is given.
func tubed(sh *artwork.Shape, rule TubeRule, pxPerMM float64) (artwork.Shape, bool) {
	out := *sh
	scale := sh.Matrix.MaxScale()
	st := geom.StrokeStyle{Join: geom.RoundJoin, MiterLimit: 4}
	if sh.Stroke != nil {
		st = *sh.Stroke
	} else if rule.Width == 0 || scale == 0 {
		return out, false
	}
	if rule.Width > 0 {
		st.Width = rule.Width * pxPerMM / scale
	}
	switch rule.Ends {
	case recipe.RoundEnds:
		st.Cap = geom.RoundCap
	case recipe.FlatEnds:
		st.Cap = geom.ButtCap
	}
	out.Stroke = &st
	return out, true
}

// widestTube returns the width of the widest tube, mm; 0 if there is none.
func (s *Sized) widestTube(rules []TubeRule) float64 {
	widest := 0.0
	for _, rule := range rules {
		widest = math.Max(widest, rule.Width)
		for k, i := range s.Chosen.Take {
			if s.Chosen.Parts[s.Chosen.Part[k]].ID != rule.ID {
				continue
			}
			if sh, ok := tubed(&s.Chosen.Sheet.Shapes[i], rule, s.PxPerMM); ok {
				widest = math.Max(widest, sh.Stroke.Width*sh.Matrix.MaxScale()/s.PxPerMM)
			}
		}
	}
	return widest
}

// limbsOf returns the tubes of a part, by their widths from the widest; of each line as much as a share of it.
func (s *Sized) limbsOf(rule TubeRule, shapes []int, step plane.Step, share float64) ([]Limb, error) {
	byWidth := map[float64][]plane.Loop{}
	var widths []float64
	for _, i := range shapes {
		sh, ok := tubed(&s.Chosen.Sheet.Shapes[i], rule, s.PxPerMM)
		if !ok {
			continue
		}
		if share < 1 {
			sh = begun(&sh, share, s.Tolerance)
		}
		st := *sh.Stroke
		if st.Cap != geom.RoundCap {
			st.Beyond = st.Width / 2
		}
		sh.Stroke = &st
		// Widths that differ by less than the grid tells are one.
		width := math.Round(st.Width*sh.Matrix.MaxScale()/s.PxPerMM*1e4) / 1e4
		if !rule.Own {
			st.Width *= step.MM(hairline) / width
		}
		if _, have := byWidth[width]; !have {
			widths = append(widths, width)
		}
		byWidth[width] = append(byWidth[width], s.snap(sh.Outline(s.Tolerance), step)...)
	}
	var out []Limb
	for _, w := range widths {
		r, err := plane.Fill(byWidth[w], plane.NonZero)
		if err != nil {
			return nil, err
		}
		if len(r) > 0 && w > 0 {
			out = append(out, Limb{w, Made[plane.Region]{regionKey(r, step), r}})
		}
	}
	return out, nil
}

// tubeForm returns the form of a limb on a grid of step mm: round, or as the part's own profile has it.
func tubeForm(m recipe.Measures, width float64, step plane.Step) recipe.Measures {
	m.Outward, m.Wall, m.OpenFront, m.OpenBack = false, 0, false, false
	if m.Tube.Own {
		return m
	}
	rim := recipe.Rim{Width: (width - step.MM(hairline)) / 2, Height: width / 2, Profile: recipe.Round, Segments: max(m.Front.Segments, 4)}
	m.Depth, m.Front, m.Back, m.Outward, m.Mitred = width, rim, rim, true, false
	return m
}
