package terms

var motionFigures = []Figure{
	{Name: "clip", Label: "Frame", Range: frames},
	{Name: "swings", Label: "Swings", What: "The number of swings", Range: Range{"", 0.5, 20, 0.5}, Usual: 3,
		Help: "How often it swings until the next key."},
	{Name: "damping", Label: "Damping", Range: Range{"", 1, 20, 0.5}, Usual: 6, Help: "How fast swings become weaker."},
	{Name: "handle", What: "The height of a drawn curve's handle", Range: Range{"", -10, 10, 0.05}},
	{Name: "place", What: "The place in the scene", Range: places},
	place("path.x", "X", "To the right."), place("path.y", "Y", "Up."), place("path.z", "Z", "Toward the camera."),
	{Name: "move.delay", Label: "Delay", Range: seconds, Usual: 0.2, Help: "Each starts so much later than the one before."},
	{Name: "move.overlap", Label: "Overlap", What: "The overlap of moves", Range: Range{"", 0, 1, 0.1}, Scale: percent, Shown: "%", Zero: "by delay",
		Flag: "overlapping", Help: "How much of its time each overlaps the next."},
	place("move.x", "From X", "The point that they follow each other from."), place("move.y", "From Y", ""),
	place("move.pivot.x", "Pivot X", "The point that they turn about."), place("move.pivot.y", "Pivot Y", ""),
	{Name: "move.from", Label: "Starts at", What: "The start of a move", Range: seconds},
	{Name: "move.lasts", Label: "Duration", Range: seconds, Zero: "to the end"},
	{Name: "move.seed", Label: "Random seed", Range: frames, Usual: 1, Whole: true},
}

var motionChoices = []Choice{
	{Name: "ease", Label: "Easing", What: "The easing", Help: "How one key leads to the next.", Options: []Option{
		{Name: "both", Label: "ease in and out"}, {Name: "even", Label: "linear"}, {Name: "soft in", Label: "ease in"},
		{Name: "soft out", Label: "ease out"}, {Name: "overshoot", Label: "overshoot"}, {Name: "bounce", Label: "bounce"},
		{Name: "spring", Label: "spring"}, {Name: "hold", Label: "hold", Help: "Stays, then jumps."},
		{Name: "drawn", Label: "curve", Help: "A curve of your own."}}},
	{Name: "move", Label: "Move", What: "A move", Flag: "move", Help: "A ready move, or the file of a saved one.", Options: []Option{
		{Name: "turntable", Label: "Turntable", Help: "once around, evenly"},
		{Name: "rise", Label: "Rise", Help: "up out of the ground"},
		{Name: "drop in", Label: "Drop in", Help: "falls and settles"},
		{Name: "swing open", Label: "Swing open", Help: "turns into view, and a little past"},
		{Name: "unroll from the left", Label: "Unroll from the left", Help: "each turns down on its left edge"},
		{Name: "spring out", Label: "Spring out", Help: "out of nothing, springing"},
		{Name: "bounce in", Label: "Bounce in", Help: "falls, and bounces till it lies"},
		{Name: "write", Label: "Write", Help: "along its outline, then filled"},
		{Name: "assemble", Label: "Assemble", Help: "parts come together from all sides"},
		{Name: "light sweep", Label: "Light sweep", Help: "a strip of light runs across"},
		{Name: "camera round", Label: "Camera round", Help: "the camera goes from left to right"}}},
	{Name: "order", Label: "Order", What: "The order of parts", Flag: "order", Help: "In which order parts follow each other.", Options: []Option{
		{Name: "together", Label: "all at once"}, {Name: "in order", Label: "as listed"},
		{Name: "left to right", Label: "left to right"}, {Name: "right to left", Label: "right to left"},
		{Name: "top down", Label: "top to bottom"}, {Name: "from the middle", Label: "from the middle"},
		{Name: "from a point", Label: "from a point"}, {Name: "at random", Label: "random"}}},
	{Name: "unit", Label: "Unit", What: "What moves as one", Flag: "unit", Help: "What moves as one.", Options: []Option{
		{Name: "part", Label: "each part"}, {Name: "word", Label: "words"}, {Name: "line", Label: "lines"},
		{Name: "layer", Label: "layers"}, {Name: "group", Label: "all as one"}}},
	{Name: "pivot", Label: "Pivot", What: "The pivot", Flag: "pivot", Help: "What turns and sizes go about.", Options: []Option{
		{Name: "middle", Label: "middle"}, {Name: "base line", Label: "baseline"}, {Name: "top", Label: "top"},
		{Name: "left", Label: "left"}, {Name: "right", Label: "right"}, {Name: "lower left", Label: "lower left"},
		{Name: "lower right", Label: "lower right"}, {Name: "upper left", Label: "upper left"},
		{Name: "upper right", Label: "upper right"}, {Name: "point", Label: "a point …"}}},
}

// Track is one figure that can change over time.
type Track struct {
	Name  string   `json:"name"`  // as documents call it
	Label string   `json:"label"` // in the timeline
	Unit  string   `json:"unit"`  // of its values
	Rest  float64  `json:"rest"`  // what it is where nothing moves it
	Of    []string `json:"of"`    // "part" (the piece, too), "camera", "scene", "lamp"
}

var (
	ofPart   = []string{"part"}
	ofCamera = []string{"camera"}
	ofScene  = []string{"scene"}
	ofLamp   = []string{"lamp"}
	ofBodies = []string{"part", "lamp"}
	ofMovers = []string{"part", "camera", "lamp"}
)

// Tracks lists all of them. Of parts and the piece places are in mm and turns in degrees; hinge is about
// their own left edge, pivot what turns and sizes go about, from their own middle.
var Tracks = []Track{
	{"right", "X", "mm", 0, ofBodies}, {"up", "Y", "mm", 0, ofBodies}, {"ahead", "forward", "mm", 0, ofBodies},
	{"turn", "rotation", "°", 0, []string{"part", "camera"}}, {"tilt", "tilt forward", "°", 0, ofPart}, {"lean", "roll", "°", 0, ofPart},
	{"swing", "hinge left", "°", 0, ofPart}, {"pivot right", "pivot X", "mm", 0, ofPart}, {"pivot up", "pivot Y", "mm", 0, ofPart},
	{"size", "scale", "×", 1, ofPart}, {"shown", "visible (1) or not (0)", "", 1, ofPart}, {"colour", "colour", "", 0, ofPart},
	{"glow", "glow", "×", 0, ofPart}, {"depth", "depth", "×", 1, ofPart}, {"bevel", "bevel height", "×", 1, ofPart},
	{"written", "written", "of it", 1, ofPart}, {"becoming", "becoming", "of it", 0, ofPart},
	{"along", "along its path", "of it", 0, ofMovers},
	{"height", "elevation", "°", 0, ofCamera}, {"distance", "farther away", "mm", 0, ofCamera},
	{"focal", "focal length", "mm", 0, ofCamera}, {"level", "roll", "°", 0, ofCamera},
	{"exposure", "exposure", "stops", 0, ofScene}, {"around", "surroundings rotation", "°", 0, ofScene},
	{"strength", "strength", "stops", 0, ofLamp},
	{"aim right", "aim X", "mm", 0, ofLamp}, {"aim up", "aim Y", "mm", 0, ofLamp}, {"aim ahead", "aim forward", "mm", 0, ofLamp},
}

// TrackNames lists what documents call them.
func TrackNames() []string {
	out := make([]string, len(Tracks))
	for i, t := range Tracks {
		out[i] = t.Name
	}
	return out
}

// Rates are the frames a second that a clip may have; the first is the usual one.
var Rates = []int{25, 24, 30, 50, 60}
