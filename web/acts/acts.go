// Package acts is the one description of what people do in the pages: each act with its words, its keys and
// what it needs. From it come the module that the pages read (web/static/js/made/acts.js), the list of keys on
// the screen and docs/keys.md. What an act does is said in the page, where all acts go through one layer
// (web/static/js/lib/acts.js).
package acts

// Act is something that a person does by a key, a button or a gesture.
type Act struct {
	Name  string   `json:"name"`            // unlike all others: its scope and a word
	Label string   `json:"label"`           // in lists of keys, and on its button where that says nothing shorter
	Keys  []string `json:"keys,omitempty"`  // as "Ctrl+Enter", "Shift+Enter", "F", "Space", "PageUp", "1-6"
	Needs string   `json:"needs,omitempty"` // what has to be selected: said where it can't be done
	// Undone says that it changes the piece, so that Undo takes it back.
	Undone bool `json:"undone,omitempty"`
	Holds  bool `json:"holds,omitempty"` // as long as the key is held
	// Repeats says that a key that is held does it again and again, as a step in a list.
	Repeats bool `json:"repeats,omitempty"`
	Asks    bool `json:"asks,omitempty"`    // before it is done
	Gesture bool `json:"gesture,omitempty"` // with the pointer, or within an element that has its own keys
}

// Scope is a part of the application whose acts are there together.
type Scope struct {
	Name  string `json:"name"`
	Title string `json:"title"`
	Acts  []Act  `json:"acts"`
}

// Scopes lists all of them.
var Scopes = []Scope{
	{"home", "Home", []Act{
		{Name: "home.new", Label: "New piece: pick a file, or several", Keys: []string{"N"}},
		{Name: "home.paste", Label: "New piece from SVG code in the clipboard", Keys: []string{"Ctrl+V"}, Gesture: true},
		{Name: "home.next", Label: "To the next piece or button", Keys: []string{"Tab"}, Gesture: true},
		{Name: "home.open", Label: "Open the piece", Keys: []string{"Enter"}, Gesture: true},
	}},
	{"frame", "Everywhere in a piece", []Act{
		{Name: "frame.step", Label: "Go to a step", Keys: []string{"1-6"}},
		{Name: "frame.undo", Label: "Undo", Keys: []string{"Ctrl+Z"}, Repeats: true},
		{Name: "frame.redo", Label: "Redo", Keys: []string{"Ctrl+Shift+Z", "Ctrl+Y"}, Repeats: true},
		{Name: "frame.history", Label: "History: all steps so far, with pictures", Keys: []string{"Shift+H"}},
		{Name: "frame.versions", Label: "Versions: states with a name", Keys: []string{"Shift+V"}},
		{Name: "frame.fold", Label: "Fold the list on the left away or back", Keys: []string{"["}},
		{Name: "frame.foldpanel", Label: "Fold the panel on the right away or back", Keys: []string{"]"}},
		{Name: "frame.paste", Label: "Paste SVG code", Keys: []string{"Ctrl+V"}, Gesture: true},
		{Name: "frame.figure", Label: "In a figure: step it; with Shift ten times as far, with Alt a tenth",
			Keys: []string{"ArrowUp", "ArrowDown"}, Gesture: true},
		{Name: "frame.giveUp", Label: "While something is dragged: give it up", Keys: []string{"Escape"}, Gesture: true},
		{Name: "frame.keys", Label: "Help: this list, and our own words", Keys: []string{"?"}},
	}},
	{"intake", "Intake", []Act{
		{Name: "intake.fit", Label: "Fit the drawing into the view", Keys: []string{"F"}},
		{Name: "intake.out", Label: "Exclude the selected shapes", Keys: []string{"Delete"}, Needs: "shapes in the list", Undone: true},
		{Name: "intake.none", Label: "Select nothing", Keys: []string{"Escape"}},
		{Name: "intake.walk", Label: "In the list: walk, open and close groups",
			Keys: []string{"ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"}, Gesture: true},
		{Name: "intake.toggle", Label: "In the list: include or exclude the row", Keys: []string{"Space"}, Gesture: true},
		{Name: "intake.rename", Label: "In the list: rename", Keys: []string{"F2"}, Gesture: true},
		{Name: "intake.move", Label: "In the list: move the selected shapes into the group above, or below",
			Keys: []string{"Alt+ArrowUp", "Alt+ArrowDown"}, Gesture: true},
		{Name: "intake.all", Label: "In the list: select all that the filter shows", Keys: []string{"Ctrl+A"}, Gesture: true},
	}},
	{"mend", "Mend", []Act{
		{Name: "mend.findings", Label: "Findings", Keys: []string{"M"}},
		{Name: "mend.shapes", Label: "Shapes", Keys: []string{"S"}},
		{Name: "mend.nodes", Label: "Nodes", Keys: []string{"N"}},
		{Name: "mend.add", Label: "Add", Keys: []string{"A"}},
		{Name: "mend.next", Label: "Next finding", Keys: []string{"ArrowDown"}, Repeats: true},
		{Name: "mend.previous", Label: "Previous finding", Keys: []string{"ArrowUp"}, Repeats: true},
		{Name: "mend.take", Label: "Take the proposal", Keys: []string{"Enter"}, Needs: "a finding", Undone: true},
		{Name: "mend.takeKind", Label: "Take all findings of the kind", Keys: []string{"Shift+Enter"}, Needs: "a finding", Undone: true},
		{Name: "mend.leave", Label: "Leave the finding, or open it again", Keys: []string{"L"}, Needs: "a finding", Undone: true},
		{Name: "mend.go", Label: "Go to the finding, or to what is selected", Keys: []string{"G"}},
		{Name: "mend.before", Label: "Hold to see the outlines as they came", Keys: []string{"B"}, Holds: true},
		{Name: "mend.foresee", Label: "Hold to see what the proposal changes", Keys: []string{"C"}, Holds: true},
		{Name: "mend.hatch", Label: "Hatch what is solid, or no longer", Keys: []string{"H"}},
		{Name: "mend.fit", Label: "Fit the drawing into the view", Keys: []string{"F"}},
		{Name: "mend.nudge", Label: "With shapes or nodes selected: move them by 0.1 mm, with Shift by 1 mm",
			Keys: []string{"ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"}, Gesture: true, Undone: true},
		{Name: "mend.walk", Label: "Previous and next shape or node; with Shift add it to the selection",
			Keys: []string{",", "."}, Gesture: true},
		{Name: "mend.node", Label: "A node in the middle of the segment after the selected one",
			Keys: []string{"+"}, Gesture: true, Undone: true},
		{Name: "mend.delete", Label: "Delete the selected shapes or nodes", Keys: []string{"Delete"}, Gesture: true, Undone: true},
		{Name: "mend.none", Label: "Select nothing", Keys: []string{"Escape"}, Gesture: true},
		{Name: "mend.place", Label: "In Add: add what the figures say", Keys: []string{"Enter"}, Gesture: true, Undone: true},
	}},
	{"size", "Size", []Act{
		{Name: "size.fit", Label: "Fit the drawing into the view", Keys: []string{"F"}},
		{Name: "size.tape", Label: "The tape: measure between two points", Keys: []string{"T"}},
		{Name: "size.away", Label: "Put the tape away", Keys: []string{"Escape"}},
		{Name: "size.cross", Label: "With the tape out: move its cross; with Shift ten times as far",
			Keys: []string{"ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"}, Gesture: true},
		{Name: "size.point", Label: "With the tape out: set a point where the cross is", Keys: []string{"Enter"}, Gesture: true},
	}},
	{"stand", "The piece on the stand", []Act{
		{Name: "stand.view", Label: "Next view of the piece", Keys: []string{"V"}},
		{Name: "stand.fit", Label: "Fit the piece into the view", Keys: []string{"F"}},
		{Name: "stand.shade", Label: "Next shading", Keys: []string{"C"}},
		{Name: "stand.dim", Label: "Dim what is not selected, or no longer", Keys: []string{"D"}},
		{Name: "stand.turn", Label: "In the view: turn; plus and minus zoom",
			Keys: []string{"ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"}, Gesture: true},
	}},
	{"raise", "Raise", []Act{
		{Name: "raise.select", Label: "Select the part under the pointer; with Shift beside others",
			Keys: []string{"Click"}, Gesture: true},
		{Name: "raise.lasso", Label: "Draw a lasso around parts", Keys: []string{"Alt+Drag"}, Gesture: true},
		{Name: "raise.rename", Label: "In the list: rename the part", Keys: []string{"F2"}, Gesture: true, Undone: true},
		{Name: "raise.copy", Label: "Copy the measures of the part", Keys: []string{"Ctrl+C"}, Gesture: true},
		{Name: "raise.paste", Label: "Give them to the parts that are selected", Keys: []string{"Ctrl+V"}, Gesture: true, Undone: true},
	}},
	{"show", "Show", []Act{
		{Name: "show.play", Label: "Play or stop", Keys: []string{"Space"}},
		{Name: "show.start", Label: "To the first frame", Keys: []string{"Home"}},
		{Name: "show.key", Label: "Set a key at the frame that is shown", Keys: []string{"K"}, Undone: true},
		{Name: "show.moves", Label: "Ready moves", Keys: []string{"M"}},
		{Name: "show.path", Label: "A path in space for what is chosen below the timeline", Keys: []string{"W"}, Undone: true},
		{Name: "show.delete", Label: "Delete the selected keys, the point of the path, or the lamp",
			Keys: []string{"Delete"}, Needs: "keys, a point or a lamp", Undone: true},
		{Name: "show.fit", Label: "Fit the camera to the piece", Keys: []string{"F"}, Undone: true},
		{Name: "show.live", Label: "The live view, or the picture", Keys: []string{"L"}},
		{Name: "show.plan", Label: "Camera and lamps from above", Keys: []string{"P"}},
		{Name: "show.timeline", Label: "Fold the timeline", Keys: []string{"T"}},
		{Name: "show.picture", Label: "Make the picture", Keys: []string{"Ctrl+Enter"}},
		{Name: "show.back", Label: "Back from the path", Keys: []string{"Escape"}},
		{Name: "show.walk", Label: "In the timeline: the key before and after; with Shift add it to the selection",
			Keys: []string{",", "."}, Gesture: true},
		{Name: "show.frame", Label: "In the timeline: a frame back and on; with Shift ten",
			Keys: []string{"ArrowLeft", "ArrowRight"}, Gesture: true},
		{Name: "show.later", Label: "In the timeline: move the selected keys in time",
			Keys: []string{"Alt+ArrowLeft", "Alt+ArrowRight"}, Gesture: true, Undone: true},
		{Name: "show.longer", Label: "In the timeline: stretch the selected keys",
			Keys: []string{"Alt+ArrowUp", "Alt+ArrowDown"}, Gesture: true, Undone: true},
		{Name: "show.lamp", Label: "On the plan: move the lamp; with Shift farther",
			Keys: []string{"ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"}, Gesture: true, Undone: true},
	}},
	{"release", "Release", []Act{
		{Name: "release.checks", Label: "Checks", Keys: []string{"C"}},
		{Name: "release.layers", Label: "Layers", Keys: []string{"L"}},
		{Name: "release.printer", Label: "The printer", Keys: []string{"P"}},
		{Name: "release.face", Label: "Lay it on its face, or back again", Keys: []string{"D"}, Undone: true},
		{Name: "release.stands", Label: "Compare how it can stand", Keys: []string{"S"}},
		{Name: "release.up", Label: "A layer up", Keys: []string{"PageUp"}, Repeats: true},
		{Name: "release.down", Label: "A layer down", Keys: []string{"PageDown"}, Repeats: true},
		{Name: "release.play", Label: "Play the layers, or stop", Keys: []string{"Space"}},
		{Name: "release.travel", Label: "Travel between lines", Keys: []string{"W"}},
		{Name: "release.nearer", Label: "Zoom in", Keys: []string{"+", "="}, Repeats: true},
		{Name: "release.farther", Label: "Zoom out", Keys: []string{"-"}, Repeats: true},
		{Name: "release.fit", Label: "Fit the bed, or what lies on it", Keys: []string{"F"}},
		{Name: "release.send", Label: "Send it to the printer", Keys: []string{"Ctrl+Enter"}},
	}},
}
