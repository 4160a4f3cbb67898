package terms

// share is a figure of 0 to 1 that is shown in per cent, with a slider over all of it.
func share(name, label, what, help string, usual float64) Figure {
	return Figure{Name: name, Label: label, What: what, Help: help, Range: shares, Usual: usual,
		High: 1, Scale: percent, Shown: "%"}
}

// place is a coordinate of the scene.
func place(name, label, help string) Figure {
	return Figure{Name: name, Label: label, What: "The place in the scene", Help: help, Range: places}
}

var showFigures = []Figure{
	share("rough", "Roughness", "The roughness", "0 is a mirror, 100 % matt.", 0.45),
	share("metal", "Metal", "The metal", "Metals mirror in their own colour.", 0),
	share("coat", "Lacquer", "The lacquer", "A clear coat over the surface.", 0),
	share("coatRough", "Lacquer roughness", "The roughness of lacquer", "", 0),
	{Name: "glow", Label: "Glow", Range: Range{"×", 0, 1000, 0.5}, High: 20, Help: "Light given off, as a multiple of white."},
	share("clear", "Transparency", "The transparency", "How much light is let through.", 0),
	{Name: "index", Label: "Refraction", What: "The index of refraction", Range: Range{"", 1, 2.5, 0.05}, Usual: 1.5,
		Low: 1, High: 2.5, Help: "How much light is bent: water 1.33, glass 1.5, diamond 2.4."},
	{Name: "deep", Label: "Colour depth", What: "The way inside", Range: Range{"mm", 0.01, 10_000, 1}, Usual: 5, Low: 0.5, High: 60,
		Help: "After so much way inside light has the colour."},
	{Name: "grain", Label: "Grain", What: "The size of the grain", Range: Range{"mm", 0, 1000, 0.05}, High: 3, Zero: "smooth"},
	{Name: "brushTurn", Label: "Brush angle", What: "The turn of the brush", Range: turns, Low: -90, High: 90},

	{Name: "lamp.strength", Label: "Strength", Range: stops, Low: -6, High: 6, Help: "0 lights a white surface fully."},
	{Name: "lamp.kelvin", Label: "Temperature", What: "The colour temperature", Range: Range{"K", 0, 40_000, 100}, High: 12_000, Zero: "white"},
	place("lamp.width", "Width", ""), place("lamp.height", "Height", ""), place("lamp.diameter", "Diameter", ""),
	{Name: "lamp.cone", Label: "Cone", What: "The angle of a lamp", Range: Range{"°", 0, 179, 5}, Usual: 40, Low: 1, High: 120},
	{Name: "lamp.disc", Label: "Disc", What: "The angle of a lamp", Range: Range{"°", 0, 179, 0.5}, Usual: 1, High: 20,
		Help: "How large the sun looks; larger ones throw softer shadows."},
	place("lamp.x", "X", "To the right of the middle of the piece."), place("lamp.y", "Y", "Up from there."),
	place("lamp.z", "Z", "Toward the camera from there."),
	place("lamp.aim.x", "Aim X", "What it looks at, to the right of the middle."), place("lamp.aim.y", "Aim Y", "Up from there."),
	place("lamp.aim.z", "Aim Z", "Toward the camera from there."),
	{Name: "sky.turn", Label: "Rotation", What: "The rotation of the surroundings", Range: turns, Low: -180, High: 180},
	{Name: "sky.strength", Label: "Strength", What: "The strength of the surroundings", Range: stops, Low: -6, High: 6},
	{Name: "exposure", Label: "Exposure", Range: stops, Low: -6, High: 6},

	{Name: "camera.focal", Label: "Focal length", Range: Range{"mm", 8, 2000, 5}, Usual: 70, Low: 14, High: 300},
	{Name: "camera.turn", Label: "Rotation", What: "The rotation of the camera", Range: turns, Usual: -24, Low: -180, High: 180,
		Help: "Around the piece."},
	{Name: "camera.height", Label: "Elevation", What: "The elevation of the camera", Range: Range{"°", -90, 90, 5}, Usual: 10, Low: -90, High: 90,
		Help: "Above the horizon."},
	{Name: "camera.distance", Label: "Distance", Range: Range{"mm", -10_000_000, 10_000_000, 10}, High: 3000, Zero: "fits"},
	{Name: "camera.margin", Label: "Margin", Range: Range{"", 0, 1, 0.01}, Usual: 0.12, High: 0.4, Scale: percent, Shown: "%",
		Help: "What stays free around the piece where the camera fits it."},
	{Name: "camera.shift.x", Label: "Shift X", What: "The shift", Range: Range{"", -2, 2, 0.01}, Low: -0.5, High: 0.5, Scale: percent, Shown: "%",
		Help: "Moves the picture without turning the camera, as a share of its width."},
	{Name: "camera.shift.y", Label: "Shift Y", What: "The shift", Range: Range{"", -2, 2, 0.01}, Low: -0.5, High: 0.5, Scale: percent, Shown: "%"},
	{Name: "camera.level", Label: "Roll", What: "The roll of the camera", Range: turns, Low: -45, High: 45},
	{Name: "camera.blur", Label: "Aperture", What: "The f-number", Range: Range{"f/", 0, 128, 0.5}, High: 16, Zero: "all sharp",
		Help: "Smaller numbers blur more of what is nearer or farther."},
	{Name: "aspect", What: "The ratio of width to height", Range: Range{"", 0.05, 20, 0}},

	// 8,192 pixels are what graphics cards show.
	{Name: "picture.side", Label: "Longer side", What: "The longer side of a picture", Range: Range{"px", 1, 8192, 10}, Usual: 1920, Whole: true},
	{Name: "picture.from", Label: "First frame", Range: frames, Whole: true},
	{Name: "picture.to", Label: "Last frame", Range: frames, Whole: true},
	{Name: "shutter", Label: "Motion blur", What: "The shutter", Range: Range{"", 0, 1, 0.1}, High: 1, Scale: percent, Shown: "%",
		Zero: "none", Flag: "shutter", Help: "How much of a frame the shutter is open."},
	{Name: "shutter.angle", Label: "Shutter angle", What: "The shutter", Range: Range{"", 0, 1, 0.025}, Scale: 360, Shown: "°", Zero: "none"},
}

var showChoices = []Choice{
	{Name: "faces", Label: "Faces", What: "The faces", Options: []Option{
		{Name: "", Label: "all faces"}, {Name: "front", Label: "fronts"}, {Name: "bevel", Label: "bevels"},
		{Name: "side", Label: "sides"}, {Name: "back", Label: "backs"}}},
	{Name: "lamp", Label: "Lamp", What: "A lamp", Options: []Option{
		{Name: "panel", Label: "Panel"}, {Name: "spot", Label: "Spot"}, {Name: "sun", Label: "Sun"}}},
	{Name: "setting", Label: "Preset", What: "The setting of lamps", Options: []Option{
		{Name: "three lamps", Label: "Three lamps", Help: "Key, fill and rim light."},
		{Name: "rims alone", Label: "Rims alone"}, {Name: "from above", Label: "From above"},
		{Name: "low evening", Label: "Low evening"}, {Name: "none", Label: "None"}}},
	{Name: "surroundings", Label: "Surroundings", What: "The surroundings", Options: []Option{
		{Name: "softbox studio", Label: "Softbox studio"}, {Name: "window room", Label: "Window room"},
		{Name: "overcast quay", Label: "Overcast quay"}, {Name: "dusk", Label: "Dusk"}, {Name: "none", Label: "None"}}},
	{Name: "backdrop", Label: "Backdrop", What: "The backdrop", Options: []Option{
		{Name: "sweep", Label: "Sweep", Help: "A floor that bends up to a wall."},
		{Name: "clear", Label: "Transparent", Help: "Nothing: the picture has an alpha channel."},
		{Name: "colour", Label: "Colour"}, {Name: "gradient", Label: "Gradient"}, {Name: "surroundings", Label: "Surroundings"}}},
	{Name: "contrast", Label: "Contrast", What: "The contrast", Options: []Option{
		{Name: "soft", Label: "Soft"}, {Name: "strong", Label: "Strong"}, {Name: "flat", Label: "Flat"}}},
	{Name: "quality", Label: "Quality", What: "The quality", Flag: "quality", Help: "How much noise may be left.", Options: []Option{
		{Name: "draft", Label: "Draft"}, {Name: "good", Label: "Good"}, {Name: "final", Label: "Final"}}},
	{Name: "pictureFormat", Label: "Format", What: "The format of pictures", Flag: "format", Help: "The format of pictures.", Options: []Option{
		{Name: "png", Label: "PNG, 16 bit"}, {Name: "png8", Label: "PNG, 8 bit"}, {Name: "exr", Label: "OpenEXR, linear"},
		{Name: "hdr", Label: "Radiance HDR, linear"}}},
	{Name: "clip", Label: "Test clip as", What: "The format of test clips", Options: []Option{
		{Name: "webm", Label: "WebM"}, {Name: "mp4", Label: "MP4"}}},
}
