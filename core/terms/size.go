package terms

var sizeFigures = []Figure{
	{Name: "width", Label: "Width", What: "The side", Range: sides, Usual: 100, Flag: "width",
		Help: "Width of the piece; the height follows."},
	{Name: "height", Label: "Height", What: "The side", Range: sides, Usual: 100, Flag: "height",
		Help: "Height of the piece; the width follows."},
	{Name: "distance", Label: "Length", What: "The distance", Range: sides,
		Help: "What the measured distance is to be; the piece follows."},
	{Name: "frame.width", Label: "Width", What: "The width of the frame", Range: sides, Usual: 100},
	{Name: "frame.height", Label: "Height", What: "The height of the frame", Range: sides, Usual: 100},
	{Name: "frame.margin", Label: "Margin", What: "The margin of the frame", Range: lengths, Usual: 5,
		Help: "Kept free all round."},
	{Name: "series.width", Label: "Width of each", What: "The width of each", Range: sides, Usual: 100},
	// Half a micrometre on a piece of 100 mm is 1/80 of a grid unit's worth of single-precision noise in
	// the formats that leave.
	{Name: "tolerance", Label: "Tolerance", Range: Range{"mm", 0.0005, 10, 0.01}, Usual: 0.02, Flag: "tolerance",
		Help: "How far edges may depart from the artwork's curves. Finer means more triangles."},
	// Beyond ten times the drawing is no longer known.
	{Name: "stretch", What: "The stretch of the height", Range: Range{"", 0.1, 10, 0.1}, Usual: 1},
}

var sizeChoices = []Choice{
	{Name: "by", What: "What is fixed of the size", Options: []Option{
		{Name: "width", Label: "width"}, {Name: "height", Label: "height"}, {Name: "distance", Label: "distance"}}},
	{Name: "overlap", Label: "Overlaps", What: "The overlap", Flag: "overlap",
		Help: "What becomes of shapes that overlap.",
		Options: []Option{
			{Name: "cut", Label: "cut", Help: "A shape on top is cut out of those below, so that parts fit like inlays."},
			{Name: "keep", Label: "keep", Help: "Every part stays whole."}}},
	{Name: "lying", Label: "Orientation", What: "The orientation", Help: "How the piece lies in the files that leave.",
		Options: []Option{
			{Name: "", Label: "face up", Help: "On its back."},
			{Name: "down", Label: "face down", Help: "The plate's texture becomes the face."},
			{Name: "upright", Label: "upright", Help: "On its lower edge."}}},
	{Name: "origin", Label: "Origin", What: "The origin", Help: "Where 0, 0, 0 is in the files that leave.",
		Options: []Option{
			{Name: "", Label: "base", Help: "The middle of what it lies on."},
			{Name: "centre", Label: "centre", Help: "The middle of the body."},
			{Name: "corner", Label: "corner", Help: "The lowest corner."}}},
	{Name: "up", Label: "Up axis", What: "The up axis", Help: "Which axis points up in the files that leave; in GLB it is always y.",
		Options: []Option{{Name: "", Label: "z"}, {Name: "y", Label: "y"}}},
	{Name: "ratio", Label: "Ratio", What: "The ratio", Options: []Option{
		{Name: "locked", Label: "locked", Help: "Width and height change together."},
		{Name: "free", Label: "free", Help: "Each by itself."}}},
	{Name: "measures", What: "What a change of size does to depths", Options: []Option{
		{Name: "", Label: "ask"}, {Name: "stay", Label: "stay"}, {Name: "scale", Label: "scale"}}},
}
