package likeness

import (
	"fmt"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

// Words writes what a sheet shows in a line: each shape with its paint and the
// box of what is seen of it in units of px, then the notes.
func Words(s *artwork.Sheet, px float64) string {
	var out []string
	for i := range s.Shapes {
		sh := &s.Shapes[i]
		words := "fill"
		if sh.Stroke != nil {
			words = "stroke"
		}
		if sh.Hidden {
			words = "hidden " + words
		}
		words += " " + sh.Color.Hex()
		if sh.Opacity != 1 {
			words += fmt.Sprintf(" at %.4g", sh.Opacity)
		}
		b := sh.Box()
		words += " " + pair(b.Min, px) + " " + pair(b.Max, px)
		if path := s.Path(sh.Group); path != "" {
			words += " in " + path
		}
		if sh.Text != "" {
			words += fmt.Sprintf(" %q", sh.Text)
		}
		out = append(out, words)
	}
	for i := range s.Notes {
		n := &s.Notes[i]
		words := fmt.Sprintf("%s: %s", n.Level(), n.Text())
		if where := strings.Trim(strings.Join(n.Where, ", "), " ,"); where != "" {
			words += " (" + where + ")"
		}
		out = append(out, words)
	}
	return strings.Join(out, "; ")
}

func pair(v geom.Vec, px float64) string { return short(v.X/px) + "," + short(v.Y/px) }

// short writes a coordinate to a hundredth.
func short(v float64) string {
	text := strings.TrimRight(strings.TrimRight(fmt.Sprintf("%.2f", v), "0"), ".")
	if text == "-0" {
		return "0"
	}
	return text
}
