package ps

import (
	"bytes"
	"encoding/binary"
	"errors"
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
	"bildhauer/core/read/font"
	"bildhauer/core/read/trace"
)

const pxPerPt = 96.0 / 72

// Read runs a PostScript file and returns what a page of it paints; page counts from 1, 0 means
// the first.
func Read(
	fileName string,
	data []byte,
	fonts *font.Library,
	page int,
	tracing trace.Settings,
	b *budget.Budget,
) (*artwork.Sheet, error) {
	data = program(data)
	box, found := boundingBox(data)
	if !found {
		box = geom.Box{Max: geom.Vec{X: 612, Y: 792}}
	}
	sheet := emptySheet(fileName, box)
	m := newMachine(sheet, box, fonts, b)
	m.tracing = tracing
	if err := m.pages(data, page); err != nil {
		return nil, err
	}
	err := m.tryAll(data)
	var f *fail
	switch {
	case err == nil, errors.Is(err, errStop), errors.Is(err, errExit), errors.Is(err, errQuit):
	case errors.As(err, &f):
		if len(sheet.Shapes) == 0 {
			const text = "stops at the PostScript operator %q (%s). Save it again as EPS or SVG"
			return nil, fault.New(text, f.at, f.name)
		}
		sheet.Note(artwork.NoteRestOfFile, "", f.name, f.at)
	default:
		return nil, err
	}
	if page > 1 && sheet.Pages == 0 && len(sheet.Shapes) == 0 {
		return nil, fault.New("has no page %d that paints anything", page)
	}
	if m.endsEarly(data) {
		sheet.Note(artwork.NoteEndsEarly, "")
	}
	if len(sheet.Shapes) == 0 {
		return nil, fault.Empty(sheet, m.images, "paints nothing. Check that the artwork was saved into it")
	}
	return sheet, nil
}

// emptySheet returns a sheet with the page of a bounding box in points.
func emptySheet(fileName string, box geom.Box) *artwork.Sheet {
	num := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	return &artwork.Sheet{
		Name:          fileName,
		Format:        "EPS",
		Page:          geom.Box{Max: geom.Vec{X: box.W() * pxPerPt, Y: box.H() * pxPerPt}},
		SourceUnits:   geom.Scale(pxPerPt, pxPerPt),
		SourceWidth:   num(box.W()) + "pt",
		SourceHeight:  num(box.H()) + "pt",
		SourceViewBox: "0 0 " + num(box.W()) + " " + num(box.H()),
	}
}

// newMachine returns a machine that paints on a sheet.
func newMachine(sheet *artwork.Sheet, box geom.Box, fonts *font.Library, b *budget.Budget) *machine {
	if fonts == nil {
		fonts = &font.Library{}
	}
	m := &machine{
		budget:    b,
		library:   fonts,
		fonts:     newDict(),
		programs:  map[*dict]any{},
		told:      map[string]bool{},
		resources: map[string]object{},
		sheet:     sheet,
		system:    newDict(),
		user:      newDict(),
		gs:        newState(),
		rand:      1,
		page:      sheet.Page,
		flip:      geom.Matrix{A: pxPerPt, D: -pxPerPt, E: -box.Min.X * pxPerPt, F: box.Max.Y * pxPerPt},
	}
	m.fillSystem()
	m.dicts = []*dict{m.system, m.user}
	return m
}

// errorNames are those of PLRM 3.11; programs look for their handlers.
const errorNames = "dictfull dictstackoverflow dictstackunderflow execstackoverflow handleerror interrupt " +
	"invalidaccess invalidexit invalidfileaccess invalidfont invalidrestore ioerror limitcheck nocurrentpoint " +
	"rangecheck stackoverflow stackunderflow syntaxerror timeout typecheck undefined undefinedfilename " +
	"undefinedresult undefinedresource unmatchedmark unregistered VMerror"

// fillSystem puts operators and values into the system dictionary.
func (m *machine) fillSystem() {
	names := map[string]op{}
	for _, t := range tables {
		maps.Copy(names, t)
	}
	for _, k := range slices.Sorted(maps.Keys(names)) { // dictionaries keep an order
		m.system.put(k, object{kind: kOp, exec: true, s: k, ref: charged(k, names[k])})
	}
	dictionary := func(d *dict) object { return object{kind: kDict, ref: d} }
	text := func(s string) object { return object{kind: kString, ref: &str{[]byte(s)}} }
	m.resources["ProcSet/FontSetInit"] = dictionary(newDict())
	m.resources["ProcSet/CIDInit"] = dictionary(mapOperators())
	// Programs keep the handlers of errors to call them from their own.
	handlers := newDict()
	stop := object{kind: kArray, exec: true, ref: &array{[]object{name("stop", true)}}}
	for _, n := range strings.Fields(errorNames) {
		handlers.put(n, stop)
	}
	for _, v := range []struct {
		name  string
		value object
	}{
		{"languagelevel", integer(3)},
		{"product", text("Bildhauer")},
		{"version", text("3010")},
		{"revision", integer(1)},
		{"serialnumber", integer(0)},
		{"true", boolean(true)},
		{"false", boolean(false)},
		{"null", object{kind: kNull}},
		{"systemdict", dictionary(m.system)},
		{"userdict", dictionary(m.user)},
		{"globaldict", dictionary(m.user)},
		{"shareddict", dictionary(m.user)},
		{"statusdict", dictionary(newDict())},
		{"errordict", dictionary(handlers)},
		{"$error", dictionary(newDict())},
		{"FontDirectory", dictionary(m.fonts)},
		{"SharedFontDirectory", dictionary(m.fonts)},
		{"GlobalFontDirectory", dictionary(m.fonts)},
		{"StandardEncoding", encodingArray(font.Named("standard"))},
		{"ISOLatin1Encoding", encodingArray(font.Named("isolatin1"))},
	} {
		m.system.put(v.name, v.value)
	}
}

// tryAll runs a file as what it says it is, and then as what it may be.
func (m *machine) tryAll(data []byte) error {
	script, ours := artworkScript(data)
	if ours {
		err := m.runArtwork(script)
		if len(m.sheet.Shapes) == 0 && err == nil { // none of it after all
			m.again()
			err = m.run(&scanner{b: data})
		}
		return err
	}
	err := m.run(&scanner{b: data})
	var f *fail
	if !errors.As(err, &f) || f.name != "undefined" || len(m.sheet.Shapes) > 0 {
		return err
	}
	// Without its prolog the oldest artwork shows itself by this alone.
	images := m.images
	m.again()
	if second := m.runArtwork(script); second == nil && len(m.sheet.Shapes) > 0 {
		return nil
	}
	m.again()
	m.images = images
	return err
}

// again forgets a try that painted nothing.
func (m *machine) again() {
	s := m.sheet
	*s = artwork.Sheet{
		Name:          s.Name,
		Format:        "EPS",
		Page:          s.Page,
		SourceWidth:   s.SourceWidth,
		SourceHeight:  s.SourceHeight,
		SourceViewBox: s.SourceViewBox,
		SourceUnits:   s.SourceUnits,
		Pages:         s.Pages,
		PageNumber:    s.PageNumber,
	}
	m.told = map[string]bool{}
	m.shown, m.silent = 0, m.wanted > 1
	if s.Pages > 1 {
		s.Note(artwork.NotePages, "", s.Pages, s.PageNumber)
	}
	m.ai, m.lenient, m.done = nil, false, false
	m.gs, m.saved, m.stack, m.dicts = newState(), nil, nil, []*dict{m.system, m.user}
}

// endsEarly reports whether a file that keeps to the structuring conventions
// stops before its trailer (DSC 3.0, section 4.5: the body ends with showpage or
// %%Trailer, the file with %%EOF).
func (m *machine) endsEarly(data []byte) bool {
	if m.done || !bytes.HasPrefix(data, []byte("%!PS-Adobe")) {
		return false
	}
	tail := data[max(0, len(data)-64<<10):]
	return !bytes.Contains(tail, []byte("%%EOF")) && !bytes.Contains(tail, []byte("%%Trailer"))
}

// mapOperators returns the operators that character maps are written with;
// they are read over.
func mapOperators() *dict {
	d := newDict()
	put := func(name string, f op) {
		d.put(name, object{kind: kOp, exec: true, s: name, ref: f})
	}
	for _, n := range strings.Fields("codespacerange cidrange cidchar notdefrange notdefchar bfrange bfchar") {
		put("begin"+n, func(m *machine) error {
			_, err := m.pop()
			return first(err, m.push(object{kind: kMark}))
		})
		put("end"+n, func(m *machine) error { _, err := m.toMark(); return err })
	}
	put("begincmap", func(*machine) error { return nil })
	put("endcmap", func(*machine) error { return nil })
	put("usecmap", func(m *machine) error { _, err := m.pop(); return err })
	put("usefont", func(m *machine) error { _, err := m.pop(); return err })
	return d
}

// program returns the PostScript section of a file with a DOS binary header.
func program(data []byte) []byte {
	if len(data) > 30 && bytes.HasPrefix(data, []byte{0xC5, 0xD0, 0xD3, 0xC6}) {
		at, n := int(binary.LittleEndian.Uint32(data[4:])), int(binary.LittleEndian.Uint32(data[8:]))
		if at > 0 && n > 0 && at < len(data) && at+n <= len(data) {
			return data[at : at+n]
		}
	}
	return data
}

var boxComment = regexp.MustCompile(`(?m)^%%(HiRes)?BoundingBox:[ \t]*(\S+)[ \t]+(\S+)[ \t]+(\S+)[ \t]+(\S+)`)

// boundingBox finds the page in points; the finer comment wins.
func boundingBox(data []byte) (geom.Box, bool) {
	var best geom.Box
	found, fine := false, false
	text := bytes.ReplaceAll(data, []byte("\r"), []byte("\n"))
	for _, part := range [][]byte{text[:min(len(text), 64<<10)], text[max(0, len(text)-32<<10):]} {
		for _, m := range boxComment.FindAllStringSubmatch(string(part), -1) {
			var v [4]float64
			good := true
			for i := range v {
				f, err := strconv.ParseFloat(strings.TrimSpace(m[i+2]), 64)
				v[i], good = f, good && err == nil && f > -1e6 && f < 1e6
			}
			if !good || v[2] <= v[0] || v[3] <= v[1] || found && (fine || m[1] == "") {
				continue
			}
			best = geom.Box{Min: geom.Vec{X: v[0], Y: v[1]}, Max: geom.Vec{X: v[2], Y: v[3]}}
			found, fine = true, m[1] != ""
		}
	}
	return best, found
}
