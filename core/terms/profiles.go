package terms

// Profile is the form of a bevel, named after mouldings. On the unit square it runs from the rim, 0, inward
// to 1 and up from the wall, 0, to the face, 1, piece by piece.
type Profile struct {
	Name  string  `json:"name"`
	Label string  `json:"label"`
	Help  string  `json:"help"`
	Full  bool    `json:"full,omitempty"`  // as wide as the part is
	Drawn bool    `json:"drawn,omitempty"` // its points are the person's
	Lines []Piece `json:"lines,omitempty"` // what it consists of
}

// Piece leads on to a point of the square. Its form: "line"; "round", a quarter of an ellipse that starts
// upright and arrives level; "cove", one that starts level and arrives upright; "stairs", as many as facets.
type Piece struct {
	Form string  `json:"form"`
	T    float64 `json:"t"`
	F    float64 `json:"f"`
	Half bool    `json:"half,omitempty"` // with half of the facets
}

// Profiles lists all profiles. One that is added here is raised, drawn, chosen from and told about everywhere.
var Profiles = []Profile{
	{Name: "chamfer", Label: "chamfer", Help: "Straight.", Lines: []Piece{{"line", 1, 1, false}}},
	{Name: "round", Label: "round", Help: "A quarter of a circle, upright at the rim.", Lines: []Piece{{"round", 1, 1, false}}},
	{Name: "cove", Label: "cove", Help: "A hollow quarter of a circle.", Lines: []Piece{{"cove", 1, 1, false}}},
	{Name: "ogee", Label: "ogee", Help: "A cove that turns into a round half way.",
		Lines: []Piece{{"cove", 0.5, 0.5, true}, {"round", 1, 1, true}}},
	{Name: "keel", Label: "keel", Help: "A round that turns into a cove half way, as an ogee upside down.",
		Lines: []Piece{{"round", 0.5, 0.5, true}, {"cove", 1, 1, true}}},
	{Name: "bead", Label: "bead", Help: "A rounded border, set off from the face by a groove.",
		Lines: []Piece{{"round", 0.5, 1, false}, {"cove", 1, 0.5, false}, {"line", 1, 1, false}}},
	{Name: "step", Label: "step", Help: "Stairs, one a segment.", Lines: []Piece{{"stairs", 1, 1, false}}},
	{Name: "pillow", Label: "pillow", Help: "A round that runs all the way to the ridge.", Full: true,
		Lines: []Piece{{"round", 1, 1, false}}},
	{Name: "dome", Label: "dome", Help: "A round that runs all the way, without an edge on the ridge.", Full: true,
		Lines: []Piece{{"round", 1, 1, false}}},
	{Name: "custom", Label: "own", Help: "Draw a profile of your own.", Drawn: true},
}

// ProfileOf returns a profile by its name; one that is not known has no pieces.
func ProfileOf(name string) Profile {
	for _, p := range Profiles {
		if p.Name == name {
			return p
		}
	}
	return Profile{}
}

func profileChoice() Choice {
	c := Choice{Name: "profile", Label: "Profile", What: "The profile", Flag: "profile", Help: "The form of bevels."}
	for _, p := range Profiles {
		c.Options = append(c.Options, Option{Name: p.Name, Label: p.Label, Help: p.Help})
	}
	return c
}
