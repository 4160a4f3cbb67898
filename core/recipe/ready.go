package recipe

import (
	"encoding/json"
	"errors"
	"strings"
)

// A named recipe is a document with a name and the section of parts alone, in which
// nothing is about single shapes: how new parts are raised, what role they have, how they
// go together. It opens like any recipe, of this version or an older one.

// Named is a recipe that can be applied to any piece.
type Named struct {
	Name  string   `json:"name"`
	Ready bool     `json:"ready"` // it comes with the program
	How   Measures `json:"how"`
	Tube  bool     `json:"asTube"` // parts are tubes

	By        string  `json:"by"`
	Relief    Relief  `json:"relief"`
	Spread    float64 `json:"spread"`
	Clearance float64 `json:"clearance"`
	Fused     string  `json:"fused"`
}

// everyPart is the id that stands for all parts in a recipe for any piece.
const everyPart = "every part"

// AllTubes reports whether a recipe for any piece makes tubes of all parts.
func (p *Parts) AllTubes() bool { return p.RoleOf(everyPart).Kind == AsTube }

// Document returns the recipe as a document.
func (n Named) Document() ([]byte, error) {
	r := New()
	r.Name = n.Name
	r.Parts = Parts{Default: n.How, By: n.By, Relief: n.Relief, Spread: n.Spread, Clearance: n.Clearance, Fused: n.Fused}
	if n.Tube {
		r.Parts.List = []Part{{ID: everyPart, Role: Role{Kind: AsTube}}}
	}
	if err := r.Check(); err != nil {
		return nil, err
	}
	return json.MarshalIndent(struct {
		Version int    `json:"version"`
		Name    string `json:"name"`
		Parts   Parts  `json:"parts"`
	}{Version, r.Name, r.Parts}, "", "  ")
}

// OpenNamed reads a recipe for any piece: of a whole one it takes what is not about
// single parts.
func OpenNamed(data []byte) (Named, error) {
	r, err := Open(data)
	if err != nil {
		return Named{}, err
	}
	if strings.TrimSpace(r.Name) == "" {
		return Named{}, errors.New("the recipe has no name")
	}
	p := &r.Parts
	out := Named{
		Name: strings.TrimSpace(r.Name), How: p.Default,
		By: p.By, Relief: p.Relief, Spread: p.Spread, Clearance: p.Clearance, Fused: p.Fused,
	}
	out.Tube = p.AllTubes()
	return out, nil
}

// rim is a bevel of four facets a curve.
func rim(profile string, width, height float64) Rim {
	return Rim{Width: width, Height: height, Profile: profile, Segments: 4}
}

// Ready lists the recipes that come with the program.
func Ready() []Named {
	none := Rim{Profile: Round, Segments: 4}
	neon := Rim{Width: 2, Height: 2, Profile: Round, Segments: 8}
	cushion := func(high float64) Rim { return Rim{Height: high, Profile: Pillow, Segments: 8} }
	tray := Rim{
		Width: 3, Height: 1.2, Profile: Custom, Segments: 6,
		Curve: []Knot{{F: 1}, {T: 0.35, F: 1}, {T: 0.6, F: 0, Bend: -1}, {T: 1}},
	}
	list := []Named{
		{Name: "Thin sign plate", How: Measures{Depth: 2, Front: rim(Chamfer, 0.3, 0.3), Back: none}},
		{Name: "Soft badge", How: Measures{Depth: 5, Front: Rim{Width: 2.4, Height: 1.8, Profile: Round, Segments: 8}, Back: rim(Round, 0.6, 0.6)}},
		{Name: "Chiselled letter", How: Measures{Depth: 6, Front: rim(Chamfer, 3.5, 3.5), Back: none}},
		{Name: "Coin", How: Measures{Depth: 2.4, Front: rim(Bead, 1.2, 0.6), Back: rim(Bead, 1.2, 0.6)}},
		{Name: "Neon tube", How: Measures{Depth: 4, Front: neon, Back: none, Tube: Tube{Width: 4, Ends: RoundEnds}}, Tube: true},
		{Name: "Cookie-cutter wall", How: Measures{Depth: 14, Front: none, Back: none, Wall: 1.2, OpenFront: true, OpenBack: true}},
		{Name: "Picture-frame moulding", How: Measures{Depth: 8, Front: Rim{Width: 4, Height: 4, Profile: Ogee, Segments: 8}, Back: none}},
		{Name: "Stepped plinth", How: Measures{Depth: 9, Front: Rim{Width: 4.5, Height: 6, Profile: Step, Segments: 3}, Back: none}},
		{Name: "Cushion", How: Measures{Depth: 6, Front: cushion(4), Back: cushion(1)}},
		{Name: "Rimmed tray", How: Measures{Depth: 4, Front: tray, Back: none}},
		{Name: "Paper relief", How: Measures{Depth: 1, Front: rim(Chamfer, 0.1, 0.1), Back: none}, Relief: Relief{Step: 0.8}},
		{Name: "Inlays that fit", How: Measures{Depth: 3, Front: rim(Chamfer, 0.2, 0.2), Back: none}, Clearance: 0.2},
	}
	for i := range list {
		list[i].Ready = true
	}
	return list
}
