package terms

var intakeFigures = []Figure{
	// More colours than these nobody tells apart in relief.
	{Name: "trace.colours", Label: "Colours", What: "The number of colours", Range: Range{"", 0, 15, 1}, Whole: true, Zero: "automatic",
		Help: "How many colours are traced, without the ground."},
	{Name: "trace.threshold", Label: "Threshold", Range: shares, Scale: percent, Shown: "%", Zero: "automatic",
		Help: "What is darker than this is drawn."},
	{Name: "trace.speckle", Label: "Specks up to", What: "The size of specks", Range: Range{"px²", 0, 100_000, 1}, Zero: "4 px²",
		Help: "Smaller areas are left out."},
	{Name: "trace.smooth", Label: "Smoothing", Range: Range{"px", 0, 20, 0.1}, Zero: "0.35 px",
		Help: "How far curves may depart from edges."},
	{Name: "trace.corner", Label: "Corner angle", Range: Range{"°", 0, 180, 5}, Zero: "automatic",
		Help: "Turns sharper than this are corners."},
	{Name: "sheet.x", Label: "X", What: "The place of the sheet", Range: signed, Help: "From the middle of the first sheet, to the right."},
	{Name: "sheet.y", Label: "Y", What: "The place of the sheet", Range: signed, Help: "From the middle of the first sheet, up."},
}

var intakeChoices = []Choice{
	{Name: "trace.by", Label: "Trace by", What: "What a bitmap is traced by", Flag: "trace-by", Help: "How bitmaps become outlines.",
		Options: []Option{
			{Name: "", Label: "automatic", Help: "By what the picture looks like."},
			{Name: "light", Label: "dark and light"}, {Name: "colours", Label: "colours"}}},
}
