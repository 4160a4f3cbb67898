package artwork

import (
	"encoding/json"
	"fmt"
	"sort"

	"bildhauer/core/geom"
)

// Level says how much a note matters.
type Level uint8

// The levels, the gravest first.
const (
	LeftOut Level = iota // something in the file became no shape
	Changed              // something looks different from the file
	Info
)

var levelNames = [...]string{LeftOut: "left out", Changed: "changed", Info: "info"}

func (l Level) String() string { return levelNames[l] }

// NoteKind is what a note says. Each kind has one sentence.
type NoteKind uint8

// The kinds of note.
const (
	NoteBitmap NoteKind = iota
	NotePlacedFile
	NotePictureElsewhere
	NoteScript
	NoteStyleRule
	NoteUnknownElement
	NoteForeignContent
	NoteForeignCopy
	NoteMissingCopy
	NoteCircularCopy
	NoteTooDeep
	NoteMissingMarker
	NoteManyMarkers
	NoteMissingPaint
	NoteNoPaint
	NoteNoExtent
	NoteFlat
	NoteBadTransform
	NoteBadNumbers
	NoteTransparent
	NoteInvisibleText
	NoteTextPathMissing
	NoteElementInText
	NoteAreaText
	NoteUnknownFont
	NoteNamelessLetters
	NoteMissingLetter
	NoteShine
	NoteShading
	NoteAnnotation
	NoteGuide
	NoteRestOfFile
	NoteRestOfPage
	NoteDamagedPart

	NoteEndsEarly
	NoteFilter
	NotePartTransform
	NotePartPath
	NoteMissingClip
	NoteMissingMask
	NoteSoftMask
	NoteSoftMaskIgnored
	NoteMaskHalf
	NoteOverprint
	NoteInk
	NoteBlend
	NotePatternGrey
	NotePatternMean
	NoteMeanColor
	NoteGradientGrey
	NoteUnknownColor
	NoteStandIn
	NoteFontElsewhere
	NoteFontDamaged
	NoteFontUnused
	NoteCharacterMap
	NoteHairline
	NoteDotLetters

	NoteClassicFont
	NoteNoFont
	NoteTraced
	NotePages

	noteKinds
)

// noteWords holds the level and the sentence of each kind, which follows a
// count: "3 x bitmap". Gaps take the words given with the note.
var noteWords = [noteKinds]struct {
	Level Level
	Text  string
}{
	NoteBitmap:           {LeftOut, "bitmap"},
	NotePlacedFile:       {LeftOut, "placed file"},
	NotePictureElsewhere: {LeftOut, "picture in another file (%s)"},
	NoteScript:           {LeftOut, "script (never run)"},
	NoteStyleRule:        {LeftOut, "style rule that is not understood"},
	NoteUnknownElement:   {LeftOut, "unknown element <%s>"},
	NoteForeignContent:   {LeftOut, "embedded foreign content"},
	NoteForeignCopy:      {LeftOut, "copy of something in another file (%s)"},
	NoteMissingCopy:      {LeftOut, "copy of an object that is missing or holds the copy itself"},
	NoteCircularCopy:     {LeftOut, "copy of an object that holds the copy itself"},
	NoteTooDeep:          {LeftOut, "object nested too deep in others"},
	NoteMissingMarker:    {LeftOut, "marker that is missing"},
	NoteManyMarkers:      {LeftOut, "markers on a path of more than 10,000 points"},
	NoteMissingPaint:     {LeftOut, "paint that refers to nothing"},
	NoteNoPaint:          {LeftOut, "object without fill and stroke"},
	NoteNoExtent:         {LeftOut, "object without extent"},
	NoteFlat:             {LeftOut, "object squeezed to nothing by its transform"},
	NoteBadTransform:     {LeftOut, "object with a transform that is not a number"},
	NoteBadNumbers:       {LeftOut, "object with coordinates that are not usable numbers"},
	NoteTransparent:      {LeftOut, "object that is fully transparent"},
	NoteInvisibleText:    {LeftOut, "invisible text"},
	NoteTextPathMissing:  {LeftOut, "text along a path that is missing"},
	NoteElementInText:    {LeftOut, "<%s> inside a text"},
	NoteAreaText:         {LeftOut, "text in an area or along a path (convert it to paths)"},
	NoteUnknownFont:      {LeftOut, "text in a font that is not understood"},
	NoteNamelessLetters: {
		LeftOut,
		"text in a font that is not embedded and whose letters the file does not name",
	},
	NoteMissingLetter: {LeftOut, "character that no shipped font has (add the font of the text)"},
	NoteShine:         {LeftOut, "shine or shade, painted on what lies below (include it to make it a body)"},
	NoteShading:       {Changed, "shading that could not be sampled became grey"},
	NoteAnnotation:    {LeftOut, "annotation (link, comment or form field)"},
	NoteGuide:         {LeftOut, "guide"},
	NoteRestOfFile:    {LeftOut, "rest of the file behind an error (%s in %s)"},
	NoteRestOfPage:    {LeftOut, "rest of the page behind a damaged object"},
	NoteDamagedPart:   {LeftOut, "damaged part of the file"},

	NoteEndsEarly: {
		Changed,
		"file that ends early: what came behind is missing (copy or save it again)",
	},
	NoteFilter:          {Changed, "filter effect left out"},
	NotePartTransform:   {Changed, "transform understood only in part"},
	NotePartPath:        {Changed, "path with an error in its data, read up to there"},
	NoteMissingClip:     {Changed, "clipping path that is missing ignored"},
	NoteMissingMask:     {Changed, "mask that is missing ignored"},
	NoteSoftMask:        {Changed, "mask that is a bitmap not applied, the whole object is shown"},
	NoteSoftMaskIgnored: {Changed, "soft mask ignored, the whole object is shown"},
	NoteOverprint:       {Info, "overprinting, which is a matter of print and not of outlines, ignored"},
	NoteInk:             {Info, "ink %s, shown in the colour that the file gives for it"},
	NoteMaskHalf:        {Changed, "soft mask: its edge is where half of the object shows through"},
	NoteBlend:           {Changed, "blend mode %s shown as normal"},
	NotePatternGrey:     {Changed, "pattern became plain grey"},
	NotePatternMean:     {Changed, "pattern became its mean colour"},
	NoteMeanColor:       {Changed, "gradient became its mean colour"},
	NoteGradientGrey:    {Changed, "gradient that is not defined became grey"},
	NoteUnknownColor:    {Changed, "unknown colour %q became black"},
	NoteStandIn:         {Changed, "text set in %s: not embedded, shown in %s (add the font to the piece)"},
	NoteFontElsewhere:   {Changed, "font in another file not loaded (add the font to the piece)"},
	NoteFontDamaged:     {Changed, "embedded font that is damaged"},
	NoteFontUnused:      {Changed, "embedded font not used: it %s"},
	NoteCharacterMap:    {Changed, "text with the character map %s may show wrong letters"},
	NoteHairline:        {Changed, "line thinner than any device shows drawn as a hairline"},
	NoteDotLetters: {
		Changed,
		"letter of a bitmap font outlined along its dots (a font with outlines would be smooth)",
	},

	NoteClassicFont: {Info, "text set in %s, shown in %s"},
	NoteNoFont:      {Info, "text without a font, shown in %s"},
	NoteTraced:      {Info, "bitmap of %d by %d pixels traced"},
	NotePages:       {Info, "the file has %d pages; this is page %d"},
}

// Note is an entry of the report on what was read.
type Note struct {
	Kind   NoteKind
	Args   []any      // for the gaps of the sentence
	Sheet  string     // name of the sheet it is about, of several
	Count  int        // how many objects it is about
	Where  []string   // names of the first few
	Keys   []string   // of shapes that it is about
	Places []geom.Box // on the page, of what became no shape

	before []int // how many shapes there were at each object
}

// ofFile reports whether a note is about the file rather than about objects.
func (k NoteKind) ofFile() bool {
	switch k {
	case NotePages, NoteEndsEarly, NoteFontElsewhere, NoteFontDamaged, NoteFontUnused:
		return true
	}
	return false
}

// Level returns how much the note matters.
func (n *Note) Level() Level { return noteWords[n.Kind].Level }

// Text returns the sentence without the count.
func (n *Note) Text() string {
	text := fmt.Sprintf(noteWords[n.Kind].Text, n.Args...)
	if n.Sheet != "" {
		text += " (" + n.Sheet + ")"
	}
	return text
}

// MarshalJSON writes level and sentence as words.
func (n Note) MarshalJSON() ([]byte, error) {
	type box struct {
		Min, Max geom.Vec
	}
	out := struct {
		Level  string   `json:"level"`
		Text   string   `json:"text"`
		Count  int      `json:"count"`
		Where  []string `json:"where,omitempty"`
		Keys   []string `json:"keys,omitempty"`
		Places []box    `json:"places,omitempty"`
	}{n.Level().String(), n.Text(), n.Count, n.Where, n.Keys, nil}
	for _, b := range n.Places {
		out.Places = append(out.Places, box{b.Min, b.Max})
	}
	return json.Marshal(out)
}

// maxWhere bounds the objects that a note remembers, and maxNamed those that
// it names.
const (
	maxWhere = 400
	maxNamed = 5
)

// Note adds an object to the entry of a kind. The shape that is added next is
// taken to be the one it is about, unless it is left out. args fill the gaps
// of the sentence; other words make another entry.
func (s *Sheet) Note(kind NoteKind, where string, args ...any) { s.note(kind, where, args) }

// NoteAt adds an object that became no shape, and where it was on the page.
func (s *Sheet) NoteAt(kind NoteKind, where string, place geom.Box, args ...any) {
	n := s.note(kind, where, args)
	if !place.Empty() && place.Min.Finite() && place.Max.Finite() && len(n.Places) < maxWhere {
		n.Places = append(n.Places, place)
	}
}

// NoteShape adds what is said about a shape that is there: its key and place.
func (s *Sheet) NoteShape(kind NoteKind, sh *Shape) {
	n := s.note(kind, sh.Name, nil)
	if len(n.Keys) < maxNoteKeys {
		n.Keys = append(n.Keys, sh.Key)
	}
	if b := sh.Box(); !b.Empty() && len(n.Places) < maxWhere {
		n.Places = append(n.Places, b)
	}
}

// maxNoteKeys bounds the shapes that one entry points at.
const maxNoteKeys = 20_000

// maxNotes bounds the entries; a file can name any number of unknown things.
const maxNotes = 1000

func (s *Sheet) note(kind NoteKind, where string, args []any) *Note {
	id := fmt.Sprint(append([]any{kind}, args...)...)
	i, ok := s.noted[id]
	if !ok && len(s.Notes) >= maxNotes {
		i, ok = len(s.Notes)-1, true
	}
	if !ok {
		if s.noted == nil {
			s.noted = map[string]int{}
		}
		i = len(s.Notes)
		s.noted[id] = i
		s.Notes = append(s.Notes, Note{Kind: kind, Args: args})
	}
	n := &s.Notes[i]
	n.Count++
	if where != "" && len(n.Where) < maxNamed {
		n.Where = append(n.Where, where)
	}
	if len(n.before) < maxWhere {
		n.before = append(n.before, len(s.Shapes))
	}
	return n
}

// keepNotes gives the notes the keys of their shapes and puts what was left out
// first, then what was changed.
func (s *Sheet) keepNotes() {
	for i := range s.Notes {
		n := &s.Notes[i]
		if n.Level() == LeftOut || n.Kind.ofFile() {
			continue
		}
		last := ""
		for _, at := range n.before {
			if at < len(s.Shapes) && s.Shapes[at].Key != last {
				last = s.Shapes[at].Key
				n.Keys = append(n.Keys, last)
			}
		}
	}
	s.sortNotes()
}

// Gravest returns the sentence of the note that matters most, "" without any.
func (s *Sheet) Gravest() string {
	best := -1
	for i := range s.Notes {
		if best < 0 || s.Notes[i].Level() < s.Notes[best].Level() {
			best = i
		}
	}
	if best < 0 {
		return ""
	}
	return s.Notes[best].Text()
}

func (s *Sheet) sortNotes() {
	sort.SliceStable(s.Notes, func(i, j int) bool { return s.Notes[i].Level() < s.Notes[j].Level() })
	s.noted = nil
}
