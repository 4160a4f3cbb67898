package terms

// Word is one that the program uses in its own sense.
type Word struct {
	Name  string `json:"name"`
	Means string `json:"means"`
}

// Words are the few of our own, from the whole to its parts and then as one comes by them. All others are
// those of the trade.
var Words = []Word{
	{"Piece", "One project: its artwork, all that was decided about it, and its history."},
	{"Sheet", "One file of artwork in a piece. Several sheets lie on top of each other."},
	{"Part", "One solid, made of one shape or of several."},
	{"Recipe", "All decisions of a piece, from cleaning to light. A kept recipe can be used on other artwork."},
	{"Version", "A state of a piece under a name, to compare with and to go back to."},
	{"Intake", "The first step: what is in the file, and which of it is wanted."},
	{"Mend", "The second step: the drawing is cleaned, by itself or by hand."},
	{"Finding", "Something about the drawing or the solid that will hurt later, with what to do about it."},
	{"Raise", "The fourth step: flat shapes become solids by depth, bevels, recesses and details."},
	{"Section", "The drawing of a part that is cut through, to see and set its depth and bevels."},
	{"Ridge", "The line in the middle of a stroke, where bevels from both sides meet."},
	{"Relief", "Parts step up by themselves, each as it lies on the others."},
	{"Stand", "The round table with rings in millimetres that a piece rests on."},
	{"Show", "The fifth step: materials, light, camera and motion, as pictures and clips."},
	{"Sweep", "A backdrop whose floor bends up to a wall, as in a photo studio."},
	{"Shine and shade", "Light that is painted on a flat drawing. It can be left out, so that real light does it."},
	{"Release", "The last step: checks, files for other programs, and the print."},
	{"Rehearsal", "The print, walked through line by line before a printer is asked."},
}
