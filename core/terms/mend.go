package terms

// The measures of findings: from which on something counts as one. The usual ones suit a piece of 5 to
// 50 cm that is printed with a nozzle of 0.4 mm or cut.
var mendFigures = []Figure{
	// What lies nearer than a hair's fifth can't have been meant.
	{Name: "mend.weld", Label: "Doubled nodes within", What: "The distance of doubled nodes", Range: Range{"mm", 0, 5, 0.005}, Usual: 0.01,
		Help: "Nodes nearer to each other are one."},
	{Name: "mend.gap", Label: "Gap", Range: Range{"mm", 0, 100, 0.05}, Usual: 0.5,
		Help: "Ends and neighbours nearer than this were meant to meet."},
	// Two walls of a nozzle of 0.4 mm.
	{Name: "mend.thin", Label: "Smallest width", Range: Range{"mm", 0, 100, 0.1}, Usual: 0.8,
		Help: "Strokes and bridges thinner than this break."},
	{Name: "mend.slot", Label: "Smallest hole", Range: Range{"mm", 0, 100, 0.1}, Usual: 0.5,
		Help: "Holes and slots narrower than this close when printed or painted."},
	{Name: "mend.tip", Label: "Sharpest tip", Range: Range{"°", 0, 90, 1}, Usual: 15,
		Help: "Tips sharper than this break off or prick."},
	{Name: "mend.scrap", Label: "Smallest shape", Range: Range{"mm", 0, 100, 0.1}, Usual: 0.6,
		Help: "Shapes smaller than this in both directions count as scraps."},
	{Name: "mend.refit", Label: "Deviation of new curves", Range: Range{"mm", 0.0005, 5, 0.005}, Usual: 0.02,
		Help: "How far an outline with fewer nodes may depart from the old one."},
	{Name: "mendLength", Label: "Length", What: "The length in a mend", Range: Range{"mm", -100_000, 100_000, 0.1}},
	{Name: "mendTurn", Label: "Angle", What: "The turn", Range: Range{"°", -360_000, 360_000, 15}, Usual: 90},
	{Name: "mendText", What: "The length of a lettering", Range: Range{"", 0, 400, 0}},
}

var mendChoices = []Choice{
	{Name: "mend.corners", Label: "Corners", What: "The corners", Options: []Option{
		{Name: "round", Label: "round"}, {Name: "mitre", Label: "mitred"}}},
	{Name: "mend.side", Label: "Ring", What: "The side of the outline", Options: []Option{
		{Name: "inside", Label: "inside"}, {Name: "middle", Label: "middle"}, {Name: "outside", Label: "outside"}}},
	{Name: "purpose", Label: "What matters", What: "The purpose", Options: []Option{
		{Name: "", Label: "picture and print"}, {Name: "picture", Label: "the picture"}, {Name: "print", Label: "the print"}}},
}
