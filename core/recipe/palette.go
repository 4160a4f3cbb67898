package recipe

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"bildhauer/core/terms"

	"bildhauer/core/artwork"
)

// Palette says how the shades of the artwork are gathered to few colours before parts are made: to a
// number, to as many as differ by a distance, or to given colours (package palette). Text and dark outlines
// keep their own, up to half of a number of colours, unless colours are given.
type Palette struct {
	Count    int               `json:"count,omitempty" figure:"colours,zero"` // colours that are left
	Distance float64           `json:"distance,omitempty" figure:"shade"`     // or: by which those that are left differ at least, hundredths of OKLab, hue counted twice
	Given    []string          `json:"given,omitempty"`                       // or: the colours at hand, #rrggbb
	Name     string            `json:"name,omitempty"`                        // that the given ones are kept by
	Moved    map[string]string `json:"moved,omitempty" count:"edits"`         // single shades moved by hand, to a colour that is left
}

// On reports whether shades are gathered.
func (p *Palette) On() bool { return p.Count > 0 || p.Distance > 0 || len(p.Given) > 0 }

// ManyColours is from how many shades on new pieces start with these gathered, to as many: nobody tells
// more parts apart in a list, and no printer has more filaments at hand.
const ManyColours = 12

func (p Palette) clone() Palette {
	p.Given, p.Moved = slices.Clone(p.Given), maps.Clone(p.Moved)
	return p
}

func (p *Palette) check() error {
	if err := terms.CheckTags(p); err != nil {
		return err
	}
	if p.Count > 0 && p.Distance > 0 {
		return errors.New("shades are gathered to a number of colours or by a distance, not both")
	}
	if err := checkName("A palette's name", p.Name); err != nil {
		return err
	}
	for from, to := range p.Moved {
		for _, c := range []string{from, to} {
			if _, ok := artwork.ParseHex(c); !ok {
				return fmt.Errorf("%.40q is not a colour; write it like #a9492b", c)
			}
		}
	}
	if len(p.Given) == 0 {
		return nil
	}
	return CheckColours(p.Given)
}

// CheckColours returns an error for colours that can't be a palette.
func CheckColours(list []string) error {
	seen := map[string]bool{}
	for _, c := range list {
		if _, ok := artwork.ParseHex(c); !ok {
			return fmt.Errorf("%.40q is not a colour; write it like #a9492b", c)
		}
		seen[c] = true
	}
	if len(seen) < 2 {
		return errors.New("a palette of one colour makes a single part of all. Give two colours at least, or join the parts instead")
	}
	return terms.Of("given").Check(float64(len(list)))
}

// ReadColours reads the colours of a palette from a file: one a line, #rrggbb and perhaps a name behind it, or a
// JSON object with a list of them as "colours".
func ReadColours(data []byte) ([]string, error) {
	var list []string
	if trimmed := bytes.TrimSpace(data); bytes.HasPrefix(trimmed, []byte("{")) {
		var doc struct {
			Colours []string `json:"colours"`
		}
		if err := json.Unmarshal(trimmed, &doc); err != nil {
			return nil, fmt.Errorf("it is no palette: %v", err)
		}
		list = doc.Colours
	} else {
		for n, line := range strings.Split(string(data), "\n") {
			word, _, _ := strings.Cut(strings.TrimSpace(line), " ")
			if word == "" {
				continue
			}
			if _, ok := artwork.ParseHex(strings.ToLower(word)); !ok {
				return nil, fmt.Errorf("line %d is no colour: write #a9492b, and a name behind it if you like", n+1)
			}
			list = append(list, strings.ToLower(word))
		}
	}
	return list, CheckColours(list)
}
