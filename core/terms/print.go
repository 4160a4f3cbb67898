package terms

import "slices"

var printFigures = []Figure{
	{Name: "print.roll", Label: "Rotation in its plane", What: "The rotation in its plane", Range: turns, Help: "Before it tilts."},
	{Name: "print.tilt", Label: "Tilt", What: "The tilt", Range: Range{"°", -180, 180, 5}, Help: "How far it leans back from how it lies."},
	{Name: "print.turn", Label: "Rotation", What: "The rotation", Range: turns, Help: "On the bed."},
	// More pieces than this are several prints.
	{Name: "print.copies", Label: "Copies", What: "The number of copies", Range: Range{"", 1, 200, 1}, Usual: 1, Whole: true},
	{Name: "print.gap", Label: "Gap between", What: "The gap between copies", Range: Range{"mm", 0, 1000, 1}, Usual: 5},
	{Name: "print.nozzle", Label: "Nozzle", Range: Range{"mm", 0.1, 2, 0.1}, Usual: 0.4},
	{Name: "print.price", Label: "Price of a kg", What: "The price", Range: Range{"", 0, 100_000, 1}, Usual: 25},
	{Name: "print.layer", Label: "Layer height", What: "The layer", Range: layers, Usual: 0.2},
	{Name: "print.first", Label: "First layer", What: "The layer", Range: layers, Usual: 0.2},
	{Name: "print.floors", Label: "Solid layers", What: "The number of solid layers", Range: Range{"", 0, 50, 1}, Usual: 4, Whole: true,
		Help: "Below and above."},
	{Name: "print.perimeters", Label: "Perimeters", What: "The number of perimeters", Range: Range{"", 1, 20, 1}, Usual: 2, Whole: true},
	{Name: "print.density", Label: "Infill density", What: "The density of infill", Range: shares, Usual: 0.2, Scale: percent, Shown: "%"},
	// Beyond half a line there is nothing left to reach over.
	{Name: "print.overlap", Label: "Infill overlap", What: "The overlap of infill", Range: Range{"", 0, 0.5, 0.05}, Usual: 0.1,
		Scale: percent, Shown: "%", Help: "How far infill reaches into walls, as a share of a line."},
	{Name: "print.outline", Label: "Outlines inward", What: "The correction for the nozzle", Range: fits,
		Help: "By how much outlines are drawn in, as melt spreads."},
	{Name: "print.holes", Label: "Holes wider", What: "The correction for the nozzle", Range: fits},
	{Name: "print.foot", Label: "First layer inward", What: "The correction for the nozzle", Range: fits,
		Help: "Besides, as the first layer is pressed flat."},
	{Name: "print.firstSpeed", Label: "First layer", What: "The speed", Range: speeds, Usual: 25},
	{Name: "print.outerSpeed", Label: "Outer perimeter", What: "The speed", Range: speeds, Usual: 60},
	{Name: "print.innerSpeed", Label: "Inner perimeters", What: "The speed", Range: speeds, Usual: 80},
	{Name: "print.fillSpeed", Label: "Infill and solid", What: "The speed", Range: speeds, Usual: 100},
	{Name: "print.travelSpeed", Label: "Travel", What: "The speed", Range: speeds, Usual: 150},
	{Name: "heights.colours", Label: "Filaments", What: "The number of filaments", Range: Range{"", 2, 64, 1}, Usual: 4, Whole: true},
	{Name: "heights.plate", Label: "Lowest colour", What: "The height of the lowest colour", Range: Range{"mm", 0.01, 100_000, 0.2}, Usual: 0.8},
	{Name: "heights.step", Label: "Each step", What: "The height of each step", Range: Range{"mm", 0.01, 100_000, 0.2}, Usual: 0.4},
}

var printChoices = []Choice{
	{Name: "bed", Label: "Bed", What: "The bed", Options: []Option{
		{Name: "180", Label: "180 × 180 × 180 mm"}, {Name: "256", Label: "256 × 256 × 256 mm"}}},
	{Name: "filament", Label: "Material", What: "The material of a print", Options: []Option{
		{Name: "PLA", Label: "PLA"}, {Name: "PETG", Label: "PETG"}, {Name: "ABS", Label: "ABS"}, {Name: "ASA", Label: "ASA"}}},
	{Name: "infill", Label: "Infill", What: "The infill", Options: []Option{
		{Name: "lines", Label: "lines"}, {Name: "grid", Label: "grid"}, {Name: "concentric", Label: "concentric"}, {Name: "none", Label: "none"}}},
	{Name: "skirt", Label: "Adhesion", What: "The skirt", Options: []Option{
		{Name: "skirt", Label: "skirt", Help: "A line around it, apart from it."},
		{Name: "brim", Label: "brim", Help: "Lines against it, which hold it down."}, {Name: "none", Label: "none"}}},
	{Name: "seam", Label: "Seam", What: "The seam", Options: []Option{
		{Name: "corner", Label: "in inner corners"}, {Name: "back", Label: "at the back"}}},
	{Name: "trouble", Label: "Trouble", What: "The kind of trouble", Options: []Option{ // the worst first
		{Name: "too large", Label: "too large", Unit: "mm"}, {Name: "loose", Label: "may let go", Unit: "mm²"},
		{Name: "falls over", Label: "falls over", Unit: "mm"}, {Name: "overhang", Label: "hangs over", Unit: "mm²"},
		{Name: "island", Label: "begins in the air", Unit: "mm²"}, {Name: "thin wall", Label: "too thin", Unit: "mm"},
		{Name: "narrow gap", Label: "too narrow", Unit: "mm"}, {Name: "small hole", Label: "hole closes", Unit: "mm"},
		{Name: "curls", Label: "curls up", Unit: "°"}}},
	{Name: "file", Label: "File", What: "The format", Options: files},
	{Name: "partsFormat", Label: "All parts as", What: "The format of the parts", Options: those("stl", "3mf", "ply", "glb")},
	{Name: "format", Label: "Format", What: "The format", Flag: "format", Help: "The format of what leaves.",
		Options: those("stl", "3mf", "obj", "glb", "ply", "usda", "usdz")},
}

// files are what can be downloaded, as a page lists it.
var files = []Option{
	{Name: "stl", Label: "STL", Help: "all parts in one mesh, for printing; no colours"},
	{Name: "3mf", Label: "3MF", Help: "parts with names and colours, for printing"},
	{Name: "gcode", Label: "G-code", Help: "the print itself, for the bed and nozzle of Print"},
	{Name: "glb", Label: "GLB", Help: "materials, lights, camera and motion, for rendering"},
	{Name: "usdz", Label: "USDZ", Help: "the same by another open standard, one file"},
	{Name: "usda", Label: "USDA", Help: "the same as text"},
	{Name: "obj", Label: "OBJ", Help: "objects and face groups; comes with its MTL"},
	{Name: "ply", Label: "PLY", Help: "one mesh with the colours of its parts"},
	{Name: "svg", Label: "SVG", Help: "the cleaned outlines of the parts, in mm"},
	{Name: "dxf", Label: "DXF", Help: "the same for cutters: a layer a part and depth"},
	{Name: "zip", Label: "All parts", Help: "each as a file of its own, with a sheet of contents"},
}

// those picks files by their names, in the order of these, without what is said about each beside the others.
func those(names ...string) (out []Option) {
	for _, name := range names {
		i := slices.IndexFunc(files, func(o Option) bool { return o.Name == name })
		out = append(out, Option{Name: files[i].Name, Label: files[i].Label})
	}
	return out
}
