// Package demo holds the artwork of the demo pieces: the new signs of the
// made-up ferry harbour Quellhaven.
package demo

import (
	"embed"
	"fmt"

	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/studio"
)

//go:embed *.svg *.eps *.ai
var art embed.FS

// File returns the bytes of an artwork file.
func File(name string) ([]byte, error) { return art.ReadFile(name) }

type piece struct {
	file string
	make func(*studio.Doc)
}

var pieces = []piece{
	{"rope-mark.ai", func(d *studio.Doc) {
		d.Recipe.Size = recipe.Size{By: "width", MM: 90}
		part := func(name string, depth, bevel float64) recipe.Part {
			return recipe.Part{Name: name, Depth: depth, Width: bevel, Height: bevel, Profile: raise.Round, Segments: 5, Back: "flat"}
		}
		d.Recipe.Parts = map[string]recipe.Part{"#d2ae70": part("Hemp strands", 9, 3), "#3b2e21": part("Tar lines", 5, 0.3), "#909090": part("Bollard", 8, 2), "#efe5cf": part("Light", 9, 0.8)}
	}},
	{"pier-key-tag.ai", func(d *studio.Doc) {
		d.Recipe.Size = recipe.Size{By: "width", MM: 68}
		part := func(name string, depth, bevel float64) recipe.Part {
			return recipe.Part{Name: name, Depth: depth, Width: bevel, Height: bevel, Profile: raise.Round, Segments: 4, Back: "flat"}
		}
		d.Recipe.Parts = map[string]recipe.Part{"#156ca0": part("Tag", 2.4, 0.5), "#efe4b2": part("Lettering", 3.6, 0.4), "#0e4669": part("Outline", 3, 0.2)}
	}},
	{"gull-crest.eps", func(d *studio.Doc) {
		d.Recipe.Size = recipe.Size{By: "height", MM: 120}
		part := func(name string, depth, bevel float64) recipe.Part {
			return recipe.Part{Name: name, Depth: depth, Width: bevel, Height: bevel, Profile: raise.Round, Segments: 4, Back: "flat"}
		}
		d.Recipe.Parts = map[string]recipe.Part{"#214a6b": part("Shield", 6, 1.2), "#f5f0e0": part("Gull, rim and waves", 9, 1.4), "#c46f4e": part("Beak", 11, 1)}
	}},
	{"tide-clock.svg", func(d *studio.Doc) {
		d.Recipe.Size = recipe.Size{By: "width", MM: 180}
		part := func(name string, depth, bevel float64) recipe.Part {
			return recipe.Part{Name: name, Depth: depth, Width: bevel, Height: bevel, Profile: raise.Round, Segments: 4, Back: "flat"}
		}
		d.Recipe.Parts = map[string]recipe.Part{
			"#b98a35": part("Brass", 14, 2), "#7a4b2a": part("Rope", 16, 1.2), "#f3ead8": part("Face and foam", 8, 0.6),
			"#2b2f38": part("Marks", 9.5, 0.8), "#2f737e": part("Sea", 10, 1.5), "#a9492b": part("Hand", 15, 1.6),
		}
	}},
	{"compass-badge.svg", func(d *studio.Doc) {
		d.Recipe.Size = recipe.Size{By: "width", MM: 80}
		part := func(name string, depth, width, height float64, p raise.Profile) recipe.Part {
			return recipe.Part{Name: name, Depth: depth, Width: width, Height: height, Profile: p, Segments: 5, Back: "flat"}
		}
		d.Recipe.Parts = map[string]recipe.Part{
			"#24404f": part("Rings", 5, 0.9, 0.9, raise.Round), "#a9492b": part("Long points", 9, 6, 5, raise.Chamfer),
			"#c9973f": part("Short points", 7, 6, 4.5, raise.Chamfer), "#f1e7d3": part("Hub", 8, 1.2, 1.2, raise.Round),
		}
	}},
}

// Fill adds the demo pieces to a studio.
func Fill(s *studio.Studio) error {
	for _, p := range pieces {
		data, err := File(p.file)
		if err != nil {
			return err
		}
		id, err := s.Create(studio.File{Name: p.file, Data: data})
		if err != nil {
			return fmt.Errorf("demo piece %s: %w", p.file, err)
		}
		if err := s.Change(id, "Demo measures", func(d *studio.Doc) error { p.make(d); return nil }); err != nil {
			return fmt.Errorf("demo piece %s: %w", p.file, err)
		}
	}
	return nil
}
