// Package demo holds the artwork of the demo pieces: the new signs of the
// made-up ferry harbour Quellhaven.
package demo

import (
	"context"
	"embed"
	"fmt"

	"bildhauer/core/recipe"
	"bildhauer/studio"
)

//go:embed *.svg *.eps *.ai
var art embed.FS

// File returns the bytes of an artwork file.
func File(name string) ([]byte, error) { return art.ReadFile(name) }

// part is how a part of a demo piece is raised; its back is flat.
type part struct {
	color, name          string
	depth, width, height float64
	profile              string
	segments             int
	role                 recipe.Role
}

// round is a part with an even round bevel.
func round(color, name string, depth, bevel float64) part {
	return moulded(color, name, depth, bevel, recipe.Round)
}

// moulded is a part with an even bevel of some profile.
func moulded(color, name string, depth, bevel float64, profile string) part {
	return part{color, name, depth, bevel, bevel, profile, 4, recipe.Role{}}
}

// faceted is a part with a wide chamfer, as points of a star have.
func faceted(color, name string, depth, width, height float64) part {
	return part{color, name, depth, width, height, recipe.Chamfer, 5, recipe.Role{}}
}

// as gives a part a role towards the part of another colour, "" for none.
func (p part) as(kind, on string) part {
	p.role = recipe.Role{Kind: kind}
	if on != "" {
		p.role.On = PartID(on)
	}
	return p
}

type piece struct {
	file   string
	by     string
	mm     float64
	relief recipe.Relief
	inks   int     // colours that shades are gathered to; 0 for all
	bevel  float64 // of parts without measures of their own, mm; 0 for the usual
	lying  string
	parts  []part
	scene  *recipe.Scene
	ident  bool // letters, hand and light move
}

const clockFace = "#f3ead8"

var pieces = []piece{
	// As rich as fur: hundreds of tufts that end in hairs, cross and leave slits, for Mend.
	{file: "ships-cat.svg", by: recipe.Height, mm: 140, inks: 8, bevel: 0.2, relief: recipe.Relief{Total: 3}},
	// As rich as an engraving: 855 shades become twelve colours, in a relief of few levels.
	{file: "harbour-view.svg", by: recipe.Width, mm: 200, inks: 12, bevel: 0.15, relief: recipe.Relief{Total: 3}},
	// Things shaded in flat tones, with dark outlines that lie in a groove.
	{file: "ferry-locker.svg", by: recipe.Width, mm: 150, inks: 8, bevel: 0.2, relief: recipe.Relief{Total: 3, Lines: recipe.LinesLowest}},
	// A relief: the strands step up as they lie on each other.
	{file: "rope-mark.ai", by: recipe.Width, mm: 90, relief: recipe.Relief{Step: 1.2}, parts: []part{
		round("#d2ae70", "Hemp strands", 5, 2), round("#3b2e21", "Tar lines", 3, 0.3),
		round("#909090", "Bollard", 5, 2), round("#efe5cf", "Light", 5, 0.8),
	}},
	// Printed on its face: the tag first, then the outline and the lettering, which lie deeper.
	{file: "pier-key-tag.ai", by: recipe.Width, mm: 68, lying: recipe.FaceDown, parts: []part{
		moulded("#156ca0", "Tag", 2.4, 0.3, recipe.Chamfer), moulded("#efe4b2", "Lettering", 1.6, 0, recipe.Chamfer),
		moulded("#0e4669", "Outline", 2, 0, recipe.Chamfer),
	}},
	// To find the clearance of inlays: pockets and plugs that are smaller by a twentieth of a millimetre more each.
	{file: "fit-gauge.svg", by: recipe.Width, mm: 94, parts: []part{
		moulded("#35596b", "Plate", 4, 0, recipe.Chamfer), moulded("#d8c7a0", "Plugs", 4, 0, recipe.Chamfer),
		moulded("#f1e7d3", "Clearances", 0.6, 0, recipe.Chamfer).as(recipe.Raised, "#35596b"),
		moulded("#a9492b", "Marks", 0.6, 0, recipe.Chamfer).as(recipe.Raised, "#d8c7a0"),
	}},
	{file: "gull-crest.eps", by: recipe.Height, mm: 120, parts: []part{
		round("#214a6b", "Shield", 6, 1.2), round("#f5f0e0", "Gull, rim and waves", 9, 1.4), round("#c46f4e", "Beak", 11, 1),
	}},
	{file: "tide-clock.svg", by: recipe.Width, mm: 180, scene: &clockScene, ident: true, parts: []part{
		moulded("#b98a35", "Brass", 14, 3, recipe.Ogee), round("#7a4b2a", "Rope", 1.3, 1.3).as(recipe.Raised, "#b98a35"),
		round(clockFace, "Face and foam", 8, 0.6), round("#2b2f38", "Marks", 1.5, 0.6).as(recipe.Raised, clockFace),
		moulded("#2f737e", "Sea", 3, 1.5, recipe.Cove).as(recipe.Recess, clockFace),
		round("#a9492b", "Hand", 4, 1.6).as(recipe.Resting, clockFace),
	}},
	{file: "compass-badge.svg", by: recipe.Width, mm: 80, scene: &badgeScene, parts: []part{
		round("#24404f", "Rings", 5, 0.9), faceted("#a9492b", "Long points", 9, 6, 5),
		faceted("#c9973f", "Short points", 7, 6, 4.5), round("#f1e7d3", "Hub", 8, 1.2),
	}},
}

// lettered lists the words of the clock whose letters are bodies of their own.
var lettered = []struct{ shape, from, letters string }{{"high", "#2b2f38", "HIGH"}, {"low", "#b98a35", "LOW"}}

// letters returns the step that makes them, and its parts as they come.
func letters() (recipe.Change, []string) {
	c := recipe.Change{Label: "Letters apart"}
	patch := map[string]recipe.PartPatch{}
	var ids []string
	for _, w := range lettered {
		for i, letter := range w.letters {
			c.Edits = append(c.Edits, &recipe.TakeShapes{
				Outlines: []string{recipe.OutlineKey(w.shape, i)}, From: PartID(w.from), Name: "Letter " + string(letter),
			})
			id := fmt.Sprintf("p%d", len(ids)+1)
			ids = append(ids, id)
			depth, width, offset := 3.0, 0.6, 0.0
			profile, segments := recipe.Round, 4
			one := recipe.PartPatch{Role: &recipe.Role{Kind: recipe.Resting, On: PartID(clockFace)}}
			one.Depth, one.Offset = &depth, &offset
			one.Front = recipe.RimPatch{Width: &width, Height: &width, Profile: &profile, Segments: &segments}
			patch[id] = one
		}
	}
	c.Edits = append(c.Edits, &recipe.EditParts{Parts: patch})
	return c, ids
}

// PartID returns the id of the part that takes a colour of a demo piece.
func PartID(color string) string { return (&recipe.Parts{}).Taking(color).ID }

// change returns the measures of a piece as one step of its history.
func (p piece) change() recipe.Change {
	parts, none := map[string]recipe.PartPatch{}, 0.0
	for _, q := range p.parts {
		patch := recipe.PartPatch{Name: &q.name, Role: &q.role}
		patch.Depth, patch.Offset = &q.depth, &none
		patch.Front = recipe.RimPatch{Width: &q.width, Height: &q.height, Profile: &q.profile, Segments: &q.segments}
		parts[PartID(q.color)] = patch
	}
	if p.bevel > 0 {
		all := recipe.PartPatch{}
		all.Front = recipe.RimPatch{Width: &p.bevel, Height: &p.bevel}
		parts[recipe.Everything] = all
	}
	return recipe.Change{Label: "Demo measures", Edits: []recipe.Edit{
		&recipe.SetSize{By: &p.by, MM: &p.mm, Lying: &p.lying}, &recipe.EditParts{Parts: parts},
		&recipe.SetParts{Relief: &p.relief, Palette: &recipe.Palette{Count: p.inks}},
	}}
}

// Fill adds the demo pieces to a studio.
func Fill(ctx context.Context, s *studio.Studio) error {
	for _, p := range pieces {
		data, err := File(p.file)
		if err != nil {
			return err
		}
		id, err := s.Create(ctx, studio.File{Name: p.file, Data: data})
		if err != nil {
			return fmt.Errorf("demo piece %s: %w", p.file, err)
		}
		if _, err := s.Change(ctx, id, studio.Latest, p.change()); err != nil {
			return fmt.Errorf("demo piece %s: %w", p.file, err)
		}
		if p.scene != nil {
			if err := p.show(ctx, s, id); err != nil {
				return fmt.Errorf("demo piece %s: %w", p.file, err)
			}
		}
	}
	return nil
}
