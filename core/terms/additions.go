package terms

// Addition is a shape that Mend adds to a drawing.
type Addition struct {
	Name    string   `json:"name"` // as mends call it
	Label   string   `json:"label"`
	Figures []Amount `json:"figures"`          // in the order of a mend's lengths
	Ways    []Option `json:"ways,omitempty"`   // the first holds where nobody chooses
	Places  int      `json:"places"`           // of the drawing that it asks for: none, one or two
	Writes  bool     `json:"writes,omitempty"` // it wants a text and a font
	Hint    string   `json:"hint"`             // how it is placed
}

// Amount is a length of an addition, mm.
type Amount struct {
	Name  string  `json:"name"`
	Label string  `json:"label"`
	Usual float64 `json:"usual"`
}

const (
	byOutline = "It goes by the outline of everything."
	byPlace   = "Click where it belongs, drag its middle, or write the figures. Enter adds it."
	byTwo     = "Click where it begins and where it ends, or write the figures. Enter adds it."
)

// Additions lists them as a page offers them.
var Additions = []Addition{
	{Name: "plate", Label: "Plate", Figures: []Amount{{"w", "Width", 60}, {"h", "Height", 20}, {"c", "Corners", 3}, {"f", "Foot", 0}}, Ways: []Option{
		{Name: "round", Label: "round corners"}, {Name: "chamfer", Label: "chamfered corners"},
		{Name: "square", Label: "square corners"}, {Name: "stake", Label: "pointed foot"}}, Places: 1, Hint: byPlace},
	{Name: "disc", Label: "Disc or ring", Figures: []Amount{{"d", "Diameter", 20}, {"o", "Opening", 0}}, Places: 1, Hint: byPlace},
	{Name: "border", Label: "Backing border", Figures: []Amount{{"n", "Beyond the outline", 3}}, Ways: []Option{
		{Name: "", Label: "holes filled"}, {Name: "holes", Label: "holes kept"}}, Hint: byOutline},
	{Name: "strip", Label: "Base strip", Figures: []Amount{{"h", "Height", 4}, {"m", "Longer by", 2}, {"i", "Up into the artwork", 1}}, Hint: byOutline},
	{Name: "eyelet", Label: "Eyelet", Figures: []Amount{{"d", "Diameter", 9}, {"o", "Opening", 4}}, Places: 1, Hint: byPlace},
	{Name: "punch", Label: "Hanging hole", Figures: []Amount{{"d", "Diameter", 4}}, Places: 1, Hint: byPlace},
	{Name: "bridge", Label: "Bridge", Figures: []Amount{{"w", "Width", 1.2}}, Places: 2, Hint: byTwo},
	{Name: "lettering", Label: "Lettering", Figures: []Amount{{"h", "Height of capitals", 8}}, Places: 1, Writes: true, Hint: byPlace},
}
