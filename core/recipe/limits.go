package recipe

import (
	"fmt"
	"math"
	"strings"

	"bildhauer/core/units"
)

// Limit is the range of one figure. The server, the command line, the page and
// docs/limits.md all read this list; nobody else writes such a number.
type Limit struct {
	Name string  `json:"name"`           // as documents and pages call it
	What string  `json:"what"`           // as a sentence begins with it
	Min  float64 `json:"min"`            // least value
	Max  float64 `json:"max"`            // greatest value
	Unit string  `json:"unit,omitempty"` // "mm", or "" for a count
	Step float64 `json:"step,omitempty"` // what an arrow key adds
}

// The limits, with their reasons.
var (
	// A tenth of a millimetre is below what any nozzle or camera shows; 100 m is
	// beyond any sign.
	SideLimit = Limit{"side", "The side", 0.1, 100_000, "mm", 1}

	// Half a micrometre on a piece of 100 mm is 1/80 of a grid unit's worth of
	// single-precision noise in the formats that leave.
	ToleranceLimit = Limit{"tolerance", "The tolerance", 0.0005, 10, "mm", 0.01}

	// Beyond ten times the drawing is no longer known.
	StretchLimit = Limit{"stretch", "The stretch of the height", 0.1, 10, "", 0.1}
	FramesLimit  = Limit{"frames", "The number of own frames", 0, 200, "", 0}

	DepthLimit       = Limit{"depth", "The depth", 0.01, 100_000, "mm", 0.5}
	BevelWidthLimit  = Limit{"bevelWidth", "The bevel's width", 0, 100_000, "mm", 0.5}
	BevelHeightLimit = Limit{"bevelHeight", "The bevel's height", 0, 100_000, "mm", 0.5}

	OffsetLimit = Limit{"offset", "The offset", -100_000, 100_000, "mm", 0.5}
	WallLimit   = Limit{"wall", "The thickness of the wall", 0, 100_000, "mm", 0.2}
	TubeLimit   = Limit{"tube", "The width of the tube", 0, 100_000, "mm", 0.5}
	ReliefLimit = Limit{"relief", "The height of the relief", 0.01, 100_000, "mm", 0.5}
	StepLimit   = Limit{"reliefStep", "The step of the relief", -1000, 1000, "mm", 0.1}
	LevelLimit  = Limit{"level", "The level", 0, MostLevels, "", 1}
	// Two colours are the least that can be told apart.
	ColoursLimit = Limit{"colours", "The number of colours", 2, 64, "", 1}
	GivenLimit   = Limit{"given", "The number of colours of a palette", 2, 64, "", 1}
	// Black and white are 100 apart.
	ShadeLimit  = Limit{"shade", "The distance between colours", 0, 100, "", 0.5}
	SpreadLimit = Limit{"spread", "The step of the spread", -1000, 1000, "mm", 0.5}
	// Wider than this it is no clearance any more, but another drawing.
	ClearanceLimit = Limit{"clearance", "The clearance", 0, 100, "mm", 0.05}
	CreaseLimit    = Limit{"crease", "The crease angle", 0, 180, "°", 5}
	SpacingLimit   = Limit{"spacing", "The spacing of points", 0, 10_000, "mm", 0.5}
	SimplifyLimit  = Limit{"simplify", "The tolerance of simplifying", 0, 10_000, "mm", 0.01}
	TrianglesLimit = Limit{"triangles", "The number of triangles", 0, 100_000_000, "", 1000}
	// A profile of more points is finer than its facets can be.
	KnotsLimit  = Limit{"knots", "The number of points of a profile", 0, 24, "", 0}
	CurvesLimit = Limit{"curves", "The number of own profiles", 0, 200, "", 0}

	// More facets than 32 lie within half a per cent of the true curve.
	SegmentsLimit = Limit{"segments", "The number of segments", 1, 32, "", 1}

	// Of scenes: beyond 24 stops nothing is left of a picture of 16 bits.
	StopsLimit   = Limit{"stops", "The strength", -24, 24, "", 0.25}
	ShareLimit   = Limit{"share", "The share", 0, 1, "", 0.05}
	GlowLimit    = Limit{"glow", "The glow", 0, 1000, "", 0.5}
	SwingsLimit  = Limit{"swings", "The number of swings", 0.5, 20, "", 0.5}
	DampingLimit = Limit{"damping", "The damping", 1, 20, "", 0.5}
	IndexLimit   = Limit{"index", "The index of refraction", 1, 2.5, "", 0.05}
	DeepLimit    = Limit{"deep", "The way inside", 0.01, 10_000, "mm", 1}
	SwingLimit   = Limit{"swing", "The turn", -3600, 3600, "°", 5}
	TiltLimit    = Limit{"tilt", "The height of the camera", -90, 90, "°", 5}
	FocalLimit   = Limit{"focal", "The focal length", 8, 2000, "", 5}
	// Of a picture: 8,192 pixels are what graphics cards show.
	PictureSideLimit = Limit{"pictureSide", "The longer side of a picture", 1, 8192, "px", 10}
	BlurLimit        = Limit{"blur", "The f-number", 0, 128, "", 0.5}
	ShiftLimit       = Limit{"shift", "The shift", -2, 2, "", 0.05}
	AspectLimit      = Limit{"aspect", "The ratio of width to height", 0.05, 20, "", 0}
	KelvinLimit      = Limit{"kelvin", "The colour temperature", 0, 40_000, "", 100}
	ConeLimit        = Limit{"cone", "The angle of a lamp", 0, 179, "°", 5}
	PlaceLimit       = Limit{"place", "The place in the scene", -10_000_000, 10_000_000, "mm", 5}
	KeptLimit        = Limit{"kept", "The number of materials or cameras kept by name", 0, 100, "", 0}
	GrainLimit       = Limit{"grain", "The size of the grain", 0, 1000, "mm", 0.05}
	// Of printers: what nozzles can lay, and a price of a kilogram in any money.
	LayerLimit  = Limit{"layer", "The layer", 0.02, 2, "mm", 0.04}
	PriceLimit  = Limit{"price", "The price", 0, 100_000, "", 1}
	NozzleLimit = Limit{"nozzle", "The nozzle", 0.1, 2, "mm", 0.1}
	LeanLimit   = Limit{"lean", "The lean", -180, 180, "°", 5}
	// Beyond half a line there is nothing left to reach over.
	OverlapLimit = Limit{"overlap", "The overlap of infill", 0, 0.5, "", 0.05}
	// More than half a millimetre no nozzle is off.
	FitLimit = Limit{"fit", "The correction for the nozzle", -0.5, 0.5, "mm", 0.02}
	// More pieces than this are several prints.
	CopiesLimit     = Limit{"copies", "The number of copies", 1, 200, "", 1}
	ApartLimit      = Limit{"apart", "The gap between copies", 0, 1000, "mm", 1}
	PerimetersLimit = Limit{"perimeters", "The number of perimeters", 1, 20, "", 1}
	FloorsLimit     = Limit{"floors", "The number of solid layers", 0, 50, "", 1}
	// Of tracing: more colours than these nobody tells apart in relief.
	TraceColoursLimit = Limit{"traceColours", "The number of colours", 0, 15, "", 1}
	SpeckleLimit      = Limit{"speckle", "The size of specks", 0, 100_000, "px²", 1}
	SmoothLimit       = Limit{"smooth", "The smoothness", 0, 20, "px", 0.1}
	CornerLimit       = Limit{"corner", "The turn of a corner", 0, 180, "°", 5}
	// Faster than this no nozzle melts anything.
	SpeedLimit  = Limit{"speed", "The speed", 1, 1000, "mm/s", 5}
	PaintsLimit = Limit{"paints", "The number of materials", 0, 400, "", 0}
	// An hour at 60 frames a second.
	ClipLimit   = Limit{"clip", "The frame", 0, 216_000, "", 1}
	HandleLimit = Limit{"handle", "The height of a drawn way's handle", -10, 10, "", 0.05}
	TracksLimit = Limit{"tracks", "The number of tracks", 0, 4000, "", 0}
	KeysLimit   = Limit{"keys", "The number of keys", 1, 4000, "", 0}
	PathsLimit  = Limit{"paths", "The number of paths", 0, 400, "", 0}
	PointsLimit = Limit{"points", "The number of points of a path", 2, 100, "", 0}
	LampsLimit  = Limit{"lamps", "The number of lamps", 0, 64, "", 0}

	NameLimit   = Limit{"name", "The length of a name", 0, 120, "", 0}
	SheetsLimit = Limit{"sheets", "The number of sheets", 1, 40, "", 0}
	FontsLimit  = Limit{"fonts", "The number of fonts", 0, 40, "", 0}
	PageLimit   = Limit{"page", "The page", 0, 100_000, "", 1}

	// As many as there may be shapes and groups in what is read.
	EditsLimit  = Limit{"edits", "The number of changed shapes", 0, 400_000, "", 0}
	GroupsLimit = Limit{"groups", "The number of groups", 0, 10_000, "", 0}
	PartsLimit  = Limit{"parts", "The number of parts with measures of their own", 0, 20_000, "", 0}

	// A person makes some hundred; taking all findings of a large sheet, some
	// thousand.
	MendsLimit = Limit{"mends", "The number of mends", 0, 20_000, "", 0}

	MendTextLimit   = Limit{"mendText", "The length of a lettering", 0, 400, "", 0}
	MendLengthLimit = Limit{"mendLength", "The length in a mend", -100_000, 100_000, "mm", 0.1}
	TurnLimit       = Limit{"turn", "The turn", -360_000, 360_000, "°", 15}
)

// Limits lists all limits.
func Limits() []Limit {
	return []Limit{SideLimit, ToleranceLimit, DepthLimit, BevelWidthLimit, BevelHeightLimit, SegmentsLimit,
		OffsetLimit, WallLimit, TubeLimit, ReliefLimit, StepLimit, LevelLimit, ColoursLimit, GivenLimit, ShadeLimit, SpreadLimit, ClearanceLimit, CreaseLimit,
		SpacingLimit, SimplifyLimit, TrianglesLimit, KnotsLimit, CurvesLimit,
		StopsLimit, ShareLimit, GlowLimit, IndexLimit, DeepLimit, SwingsLimit, DampingLimit, SwingLimit, TiltLimit, FocalLimit, PictureSideLimit,
		BlurLimit, ShiftLimit, AspectLimit,
		KelvinLimit, ConeLimit, PlaceLimit, KeptLimit, GrainLimit, LayerLimit, PriceLimit, NozzleLimit, LeanLimit, OverlapLimit, FitLimit, CopiesLimit, ApartLimit, PerimetersLimit, FloorsLimit,
		SpeedLimit, TraceColoursLimit, SpeckleLimit, SmoothLimit, CornerLimit, PaintsLimit, LampsLimit, ClipLimit, HandleLimit, TracksLimit, KeysLimit, PathsLimit, PointsLimit,
		NameLimit, SheetsLimit, FontsLimit, PageLimit, EditsLimit, GroupsLimit, PartsLimit,
		MendsLimit, MendTextLimit, MendLengthLimit, TurnLimit,
		StretchLimit, FramesLimit}
}

// Check returns a sentence for a value outside the limit.
func (l Limit) Check(v float64) error {
	if v >= l.Min && v <= l.Max {
		return nil
	}
	return l.err(l.What)
}

// checkAs is Check with other words for the figure.
func (l Limit) checkAs(what string, v float64) error {
	if v >= l.Min && v <= l.Max {
		return nil
	}
	return l.err(what)
}

func (l Limit) err(what string) error {
	return fmt.Errorf(
		"%s must be between %s and %s",
		what,
		strings.TrimSuffix(l.show(l.Min), " "+l.Unit),
		l.show(l.Max),
	)
}

func (l Limit) show(v float64) string {
	if l.Unit == "" {
		return units.Count(int(math.Round(v)))
	}
	return units.Figure(v) + " " + l.Unit
}

// LimitsTable returns docs/limits.md: what this program takes at the most.
func LimitsTable() string {
	var b strings.Builder
	b.WriteString("| figure | name | least | most |\n|---|---|---|---|\n")
	for _, l := range Limits() {
		what := strings.TrimPrefix(l.What, "The ")
		fmt.Fprintf(&b, "| %s | `%s` | %s | %s |\n", what, l.Name, l.show(l.Min), l.show(l.Max))
	}
	return b.String()
}
