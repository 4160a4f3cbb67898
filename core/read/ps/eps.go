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
)

const pxPerPt = 96.0 / 72

// Read runs an EPS file and returns what its first page paints.
func Read(fileName string, data []byte, fonts *font.Library, b *budget.Budget) (*artwork.Sheet, error) {
	data = program(data)
	box, found := boundingBox(data)
	if !found {
		box = geom.Box{Max: geom.Vec{X: 612, Y: 792}}
	}
	sheet := &artwork.Sheet{Name: fileName, Format: "EPS"}
	w, h := box.W()*pxPerPt, box.H()*pxPerPt
	sheet.Page = geom.Box{Max: geom.Vec{X: w, Y: h}}
	sheet.SourceUnits = geom.Scale(pxPerPt, pxPerPt)
	num := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	sheet.SourceWidth, sheet.SourceHeight = num(box.W())+"pt", num(box.H())+"pt"
	sheet.SourceViewBox = "0 0 " + num(box.W()) + " " + num(box.H())
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
	names := map[string]op{}
	for _, t := range tables {
		maps.Copy(names, t)
	}
	for _, k := range slices.Sorted(maps.Keys(names)) { // dictionaries keep an order
		m.system.put(k, object{kind: kOp, exec: true, s: k, ref: names[k]})
	}
	m.resources["ProcSet/FontSetInit"] = object{kind: kDict, ref: newDict()}
	m.resources["ProcSet/CIDInit"] = object{kind: kDict, ref: mapOperators()}
	text := func(s string) object { return object{kind: kString, ref: &str{[]byte(s)}} }
	m.system.put("languagelevel", integer(3))
	m.system.put("product", text("Bildhauer"))
	m.system.put("version", text("3010"))
	m.system.put("revision", integer(1))
	m.system.put("serialnumber", integer(0))
	m.system.put("true", boolean(true))
	m.system.put("false", boolean(false))
	m.system.put("null", object{kind: kNull})
	m.system.put("systemdict", object{kind: kDict, ref: m.system})
	m.system.put("userdict", object{kind: kDict, ref: m.user})
	m.system.put("globaldict", object{kind: kDict, ref: m.user})
	m.system.put("statusdict", object{kind: kDict, ref: newDict()})
	// Programs keep the handlers of errors to call them from their own.
	handlers := newDict()
	stop := object{kind: kArray, exec: true, ref: &array{[]object{name("stop", true)}}}
	for _, n := range strings.Fields("dictfull dictstackoverflow dictstackunderflow execstackoverflow handleerror interrupt invalidaccess invalidexit invalidfileaccess invalidfont invalidrestore ioerror limitcheck nocurrentpoint rangecheck stackoverflow stackunderflow syntaxerror timeout typecheck undefined undefinedfilename undefinedresult undefinedresource unmatchedmark unregistered VMerror") {
		handlers.put(n, stop)
	}
	m.system.put("errordict", object{kind: kDict, ref: handlers})
	m.system.put("$error", object{kind: kDict, ref: newDict()})
	m.system.put("FontDirectory", object{kind: kDict, ref: m.fonts})
	m.system.put("SharedFontDirectory", object{kind: kDict, ref: m.fonts})
	m.system.put("GlobalFontDirectory", object{kind: kDict, ref: m.fonts})
	m.system.put("shareddict", object{kind: kDict, ref: m.user})
	m.system.put("StandardEncoding", encodingArray(font.Named("standard")))
	m.system.put("ISOLatin1Encoding", encodingArray(font.Named("isolatin1")))
	m.dicts = []*dict{m.system, m.user}
	var err error
	script, ours := artworkScript(data)
	// again forgets a try that painted nothing.
	again := func() {
		*sheet = artwork.Sheet{
			Name:          sheet.Name,
			Format:        "EPS",
			Page:          sheet.Page,
			SourceWidth:   sheet.SourceWidth,
			SourceHeight:  sheet.SourceHeight,
			SourceViewBox: sheet.SourceViewBox,
			SourceUnits:   sheet.SourceUnits,
		}
		m.ai, m.lenient, m.gs, m.saved, m.stack, m.dicts, m.done = nil, false, newState(), nil, nil, []*dict{
			m.system,
			m.user,
		}, false
	}
	if ours {
		if err = m.runArtwork(script); len(sheet.Shapes) == 0 && err == nil { // none of it after all
			again()
			err = m.run(&scanner{b: data})
		}
	} else {
		err = m.run(&scanner{b: data})
		var f *fail
		if errors.As(err, &f) && f.name == "undefined" && len(sheet.Shapes) == 0 {
			// Without its prolog the oldest artwork shows itself by this alone.
			failed, images := err, m.images
			again()
			if err = m.runArtwork(script); err != nil || len(sheet.Shapes) == 0 {
				again()
				err, m.images = failed, images
			}
		}
	}
	var f *fail
	switch {
	case err == nil, errors.Is(err, errStop), errors.Is(err, errExit):
	case errors.Is(err, errQuit):
	case errors.As(err, &f):
		if len(sheet.Shapes) == 0 {
			return nil, fault.New(
				"stops at the PostScript operator %q (%s). Save it again as EPS or SVG",
				f.at,
				f.name,
			)
		}
		sheet.Note(artwork.NoteRestOfFile, "", f.name, f.at)
	default:
		return nil, err
	}
	if m.endsEarly(data) {
		sheet.Note(artwork.NoteEndsEarly, "")
	}
	if len(sheet.Shapes) == 0 {
		return nil, fault.Empty(sheet, m.images, "paints nothing. Check that the artwork was saved into it")
	}
	return sheet, nil
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
