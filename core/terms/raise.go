package terms

var raiseFigures = []Figure{
	{Name: "depth", Label: "Depth", Range: depths, Usual: 8, Reach: 0.5, Low: 0.01, High: 1, Flag: "depth",
		Help: "How thick parts are, bevels included; of a recess how far it goes in."},
	{Name: "offset", Label: "Offset", Range: signed, Low: -1, High: 1, Reach: 0.25, Flag: "offset",
		Help: "How far in front of the plane a part starts."},
	{Name: "bevelWidth", Label: "Width", What: "The bevel's width", Range: lengths, Usual: 1, Reach: 0.12, High: 0.5, Flag: "bevel",
		Help: "How far the bevel reaches inward, or outward; on the command line its height as well."},
	{Name: "bevelHeight", Label: "Height", What: "The bevel's height", Range: lengths, Usual: 1, Reach: 0.12, High: 0.5, Flag: "bevel-height",
		Help: "How far the bevel reaches down from the face."},
	// More facets than 32 lie within half a per cent of the true curve.
	{Name: "segments", Label: "Segments", What: "The number of segments", Range: Range{"", 1, 32, 1}, Usual: 4, Whole: true,
		Low: 1, High: 12, Flag: "segments", Help: "Facets across each curve of the profile."},
	{Name: "wall", Label: "Wall", What: "The thickness of the wall", Range: Range{"mm", 0, 100_000, 0.2}, Reach: 0.06, High: 1,
		Zero: "solid", Flag: "wall", Help: "Makes parts hollow, with walls this thick."},
	{Name: "tube", Label: "Width", What: "The width of the tube", Range: lengths, Reach: 0.1, High: 1, Zero: "as drawn", Flag: "tube-width",
		Help: "How thick tubes are."},
	{Name: "relief", Label: "Relief height", What: "The height of the relief", Range: depths, Low: 0.01, High: 10, Flag: "relief",
		Help: "Parts step up as they lie on each other; this is the height of the highest."},
	{Name: "reliefStep", Label: "Relief step", What: "The step of the relief", Range: Range{"mm", -1000, 1000, 0.1}, High: 3, Flag: "relief-step",
		Help: "By how much each level is higher than the one below."},
	// A total of 3 mm in so many has steps of 0.05 mm, which no printer lays.
	{Name: "level", Label: "Level", Range: Range{"", 0, 60, 1}, Whole: true, Zero: "automatic"},
	// Two colours are the least that can be told apart.
	{Name: "colours", Label: "Number", What: "The number of colours", Range: Range{"", 2, 64, 1}, Usual: 6, Whole: true, Flag: "colours",
		Help: "Gathers near shades to so many colours before parts are made."},
	{Name: "given", What: "The number of colours of a palette", Range: Range{"", 2, 64, 1}},
	// Black and white are 100 apart.
	{Name: "shade", Label: "Difference", What: "The distance between colours", Range: Range{"", 0, 100, 0.5}, Usual: 5, Low: 0.5, High: 40,
		Flag: "colours-apart", Help: "Gathers shades until those left differ by this; black and white differ by 100."},
	{Name: "spread", Label: "Spread", What: "The step of the spread", Range: Range{"mm", -1000, 1000, 0.5}, High: 10, Flag: "spread",
		Help: "Each part starts so much farther in front than the one before."},
	// Wider than this it is no clearance any more, but another drawing.
	{Name: "clearance", Label: "Clearance", Range: Range{"mm", 0, 100, 0.05}, High: 2, Flag: "clearance",
		Help: "The gap that neighbours leave between them, so that they can be put together."},
	{Name: "crease", Label: "Crease angle", Range: Range{"°", 0, 180, 5}, Usual: 30, Help: "Edges sharper than this look hard."},
	{Name: "spacing", Label: "Spacing", What: "The spacing of points", Range: Range{"mm", 0, 10_000, 0.5}, Flag: "spacing",
		Help: "Of points inside of flat sides."},
	{Name: "simplify", Label: "Simplify within", What: "The tolerance of simplifying", Range: Range{"mm", 0, 10_000, 0.01}, Zero: "off",
		Flag: "simplify", Help: "How far surfaces may move for fewer triangles."},
	{Name: "triangles", Label: "Triangles at most", What: "The number of triangles", Range: Range{"", 0, 100_000_000, 1000}, Whole: true,
		Zero: "any", Flag: "triangles", Help: "How many triangles the whole piece may have, as far as that goes."},
	// A profile of more points is finer than its facets can be.
	{Name: "knots", What: "The number of points of a profile", Range: Range{"", 0, 24, 0}},
	{Name: "curves", What: "The number of own profiles", Range: Range{"", 0, 200, 0}},
	{Name: "bend", What: "The bend", Range: Range{"", -1, 1, 0.1}},
}

var raiseChoices = []Choice{
	profileChoice(),
	{Name: "direction", Label: "Direction", What: "The direction", Flag: "direction", Help: "Where parts lie from the plane.",
		Options: []Option{
			{Name: "", Label: "forward", Flag: "forward"}, {Name: "back", Label: "back"}, {Name: "both", Label: "both"}}},
	{Name: "grouping", Label: "Parts by", What: "What parts are made by", Flag: "parts", Help: "What becomes one part.",
		Options: []Option{
			{Name: "", Label: "colour", Flag: "colour"}, {Name: "layer", Label: "layer"}, {Name: "group", Label: "group"},
			{Name: "shape", Label: "shape"},
			{Name: "outline", Label: "outline", Help: "Each connected area; the dot of a letter stays with it."}}},
	{Name: "role", Label: "Role", What: "The role", Help: "What a part is to the others.", Options: []Option{
		{Name: "", Label: "a body"}, {Name: "recess", Label: "a recess in", Help: "Cut into another part."},
		{Name: "raised", Label: "raised on", Help: "One body with another part, higher than its face."},
		{Name: "resting", Label: "resting on", Help: "A body of its own that stands on another part."},
		{Name: "tube", Label: "a tube", Help: "Follows the lines of its strokes."},
		{Name: "backing", Label: "a backing plate", Help: "Lies behind the others."}}},
	{Name: "reach", Label: "Bevels", What: "The direction of bevels", Options: []Option{
		{Name: "inward", Label: "inward", Help: "The outline stays, the face becomes smaller."},
		{Name: "outward", Label: "outward", Help: "The face keeps its size, walls stand outside of it."}}},
	{Name: "corners", Label: "Inner corners", What: "The inner corners", Options: []Option{
		{Name: "round", Label: "round"}, {Name: "mitred", Label: "mitred"}}},
	{Name: "open", Label: "Open", What: "The open side", Flag: "open", Help: "Leaves caps out.", Options: []Option{
		{Name: "front", Label: "Open in front"}, {Name: "back", Label: "Open behind"}, {Name: "both", Label: "both"}}},
	{Name: "back", What: "The back", Flag: "back", Help: "The bevel behind.", Options: []Option{
		{Name: "flat", Label: "flat"}, {Name: "bevel", Label: "like the front"}}},
	{Name: "tubeEnds", Label: "Ends", What: "The ends of a tube", Options: []Option{
		{Name: "", Label: "as drawn"}, {Name: "round", Label: "round"}, {Name: "flat", Label: "flat"}}},
	{Name: "tubeSection", Label: "Section", What: "The section of a tube", Flag: "tube-section", Help: "What tubes look like cut across.",
		Options: []Option{
			{Name: "round", Label: "round"}, {Name: "own", Label: "depth and edges", Help: "With the part's own depth and bevels."}}},
	// A tenth of a millimetre is seen in the hand, a fiftieth is what a nozzle follows, a two-hundredth is
	// for close pictures: see Finenesses.
	{Name: "fineness", Label: "Fineness", What: "The fineness", Flag: "fineness", Help: "How closely curves are followed, or a length.",
		Options: []Option{
			{Name: "draft", Label: "draft", Help: "Within 0.1 mm."}, {Name: "good", Label: "good", Help: "Within 0.02 mm."},
			{Name: "fine", Label: "fine", Help: "Within 0.005 mm."}}},
	{Name: "caps", Label: "Caps", What: "The caps", Flag: "caps", Help: "How flat sides are filled with triangles.", Options: []Option{
		{Name: "", Label: "few", Flag: "few"}, {Name: "even", Label: "even", Help: "Nearly equilateral triangles."},
		{Name: "grid", Label: "grid", Help: "Squares."}}},
	{Name: "fused", Label: "Bodies", What: "The bodies", Help: "Whether parts leave as one body.", Options: []Option{
		{Name: "", Label: "automatic", Help: "One body in files for printing, unless there is a clearance."},
		{Name: "together", Label: "one"}, {Name: "apart", Label: "apart"}}},
	{Name: "stepping", Label: "Relief", What: "The relief", Options: []Option{
		{Name: "", Label: "off"}, {Name: "total", Label: "to a height"}, {Name: "step", Label: "by a step"}}},
	{Name: "outlines", Label: "Outlines", What: "The place of outlines", Flag: "outlines", Help: "Where dark outlines stand in a relief.",
		Options: []Option{
			{Name: "", Label: "as others", Flag: "as-others"}, {Name: "highest", Label: "highest"},
			{Name: "groove", Label: "groove", Help: "Below all others."}}},
	{Name: "gathering", Label: "Colours", What: "The gathering of colours", Options: []Option{
		{Name: "", Label: "all"}, {Name: "count", Label: "a number"}, {Name: "distance", Label: "by difference"},
		{Name: "given", Label: "a palette"}}},
	{Name: "shading", Label: "Shading", What: "The shading", Options: []Option{
		{Name: "clay", Label: "Clay"}, {Name: "colours", Label: "Colours"}, {Name: "wire", Label: "Wire"},
		{Name: "zebra", Label: "Zebra", Help: "Stripes, to judge how bevels take light."}}},
	{Name: "view", Label: "Views", What: "The view", Options: []Option{
		{Name: "quarter", Label: "Quarter"}, {Name: "front", Label: "Front"}, {Name: "edge", Label: "Edge"},
		{Name: "back", Label: "Back"}}},
}

// Fineness is a tolerance by its name.
type Fineness struct {
	Name string  `json:"name"`
	MM   float64 `json:"mm"`
}

// Finenesses are those of the choice of that name, in its order.
var Finenesses = []Fineness{{"draft", 0.1}, {"good", 0.02}, {"fine", 0.005}}
