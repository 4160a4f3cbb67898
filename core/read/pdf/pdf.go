// Package pdf reads the page content of PDF files and of the newer artwork
// files that are PDF inside (ISO 32000-1). The container is a library's work;
// the interpreter of content streams is ours.
package pdf

import (
	"bytes"
	"compress/flate"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"sync"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/log"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/fault"
	"bildhauer/core/read/font"
	"bildhauer/core/read/ink"
	"bildhauer/core/read/trace"
)

// Limits of a page's structure; what a file may take altogether is the
// budget's.
const (
	maxForms   = 24       // forms within forms; ISO 32000-1, annex C asks for fewer
	maxSaved   = 5000     // graphics states and marks
	maxDecoded = 64 << 20 // bytes of one stream
)

const pxPerPt = 96.0 / 72

var quiet = sync.OnceFunc(func() {
	api.DisableConfigDir()
	log.DisableLoggers()
})

// Read returns what a page paints; page counts from 1, 0 means the first.
func Read(
	fileName string,
	data []byte,
	fonts *font.Library,
	page int,
	tracing trace.Settings,
	b *budget.Budget,
) (*artwork.Sheet, error) {
	quiet()
	if i := bytes.Index(data[:min(len(data), 1024)], []byte("%PDF-")); i > 0 {
		data = data[i:]
	}
	conf := model.NewDefaultConfiguration()
	conf.ValidationMode = model.ValidationRelaxed
	ctx, err := open(data, conf)
	if err != nil {
		text := strings.ToLower(err.Error())
		if strings.Contains(text, "password") || strings.Contains(text, "encrypt") ||
			strings.Contains(text, "decrypt") {
			return nil, fault.New(
				"is protected by a password. Open it in its program, take the protection off and save it again",
			)
		}
		return nil, fault.New("is a PDF whose structure is damaged (%s). Save the artwork again", short(err))
	}
	if fonts == nil {
		fonts = &font.Library{}
	}
	if ctx.PageCount < 1 {
		return nil, fault.New("is a PDF without pages; it may be cut short. Copy or save the artwork again")
	}
	if page == 0 {
		page = 1
	}
	if page < 1 || page > ctx.PageCount {
		if ctx.PageCount == 1 {
			return nil, fault.New("has 1 page; there is no page %d", page)
		}
		return nil, fault.New("has %d pages; there is no page %d", ctx.PageCount, page)
	}
	r := &reader{
		budget:   b,
		tracing:  tracing,
		x:        ctx.XRefTable,
		fonts:    fonts,
		sheet:    &artwork.Sheet{Name: fileName, Format: "PDF", Pages: ctx.PageCount, PageNumber: page},
		layers:   map[layerKey]int{},
		spaces:   map[string]*space{},
		programs: map[string]*textFont{},
		told:     map[standing]bool{},
		running:  map[string]bool{},
		veils:    map[string]veiled{},
		shadings: map[string]*ink.Shading{},
	}
	if err := r.page(page); err != nil {
		return nil, err
	}
	sheet := r.sheet
	if sheet.Pages > 1 {
		sheet.Note(artwork.NotePages, "", sheet.Pages, page)
	}
	if r.private && (len(sheet.Shapes) == 0 || r.placeholder) {
		return nil, fault.New(
			"holds only the private data of the program that made it, no page content. Open it there and save it once more with the option for PDF compatible content ticked",
		)
	}
	if len(sheet.Shapes) == 0 {
		nothing := fmt.Sprintf(
			"paints nothing on page %d. Check that the artwork was saved into it, or choose another page",
			page,
		)
		return nil, fault.Empty(sheet, r.images, nothing)
	}
	return sheet, nil
}

func open(data []byte, conf *model.Configuration) (ctx *model.Context, err error) {
	defer func() {
		if p := recover(); p != nil {
			ctx, err = nil, fmt.Errorf("%v", p)
		}
	}()
	if ctx, err = api.ReadContext(bytes.NewReader(data), conf); err != nil {
		return nil, err
	}
	if err := ctx.EnsurePageCount(); err != nil {
		ctx.PageCount = 0
	}
	return ctx, nil
}

func short(err error) string {
	s := strings.TrimPrefix(err.Error(), "pdfcpu: ")
	if strings.HasPrefix(s, "runtime error") {
		return "its parts do not refer to each other as they should"
	}
	if i := strings.IndexByte(s, '\n'); i >= 0 {
		s = s[:i]
	}
	if len(s) > 80 {
		s = s[:80] + "…"
	}
	return s
}

// reader interprets one page.
type reader struct {
	x     *model.XRefTable
	sheet *artwork.Sheet
	fonts *font.Library

	budget               *budget.Budget
	tracing              trace.Settings
	images               int
	running              map[string]bool // forms, by their reference
	private, placeholder bool
	flip                 geom.Matrix // from points to the page

	layers   map[layerKey]int
	spaces   map[string]*space
	programs map[string]*textFont
	told     map[standing]bool
	veils    map[string]veiled // by mask and place
	shadings map[string]*ink.Shading
	hiddenOC map[string]bool // optional content that is switched off
}

type layerKey struct {
	parent int
	id     string
}

func (r *reader) page(nr int) (err error) {
	defer func() {
		if p := recover(); p != nil {
			budget.Pass(p)
			// The library met something that it did not expect.
			if len(r.sheet.Shapes) == 0 {
				err = fault.New("is a PDF whose structure is damaged. Save the artwork again")
				return
			}
			r.sheet.Note(artwork.NoteRestOfPage, "")
		}
	}()
	d, _, inherited, err := r.x.PageDict(nr, false)
	if err != nil || d == nil {
		return fault.New("is a PDF whose page %d can't be found. Save the artwork again", nr)
	}
	if inherited == nil {
		inherited = &model.InheritedPageAttrs{}
	}
	turn := inherited.Rotate
	if v, ok := r.num(d["Rotate"]); ok {
		turn = int(v)
	}
	unit := 1.0
	if v, ok := r.num(d["UserUnit"]); ok && v > 0 && v < 1000 {
		unit = v
	}
	r.place(r.pageBox(d, inherited), turn, unit)
	r.editorData(d)
	for _, o := range r.array(d["Annots"]) {
		a := r.dict(o)
		r.sheet.NoteAt(artwork.NoteAnnotation, r.nameOf(a["Subtype"]), r.rect(a["Rect"]).Transform(r.flip))
	}
	r.optional()
	res := r.dict(d["Resources"])
	if res == nil {
		res = inherited.Resources
	}
	content, err := r.content(d["Contents"])
	if err != nil {
		return err
	}
	if bytes.Contains(content, []byte("without PDF Content")) {
		r.private, r.placeholder = true, true
	}
	in := &run{r: r, g: newState(), res: res, group: -1}
	return in.stream(content, 0)
}

// pageBox returns what is shown of a page, in its own units: the crop box
// within the media box, letter paper where the file says neither.
func (r *reader) pageBox(d types.Dict, inherited *model.InheritedPageAttrs) geom.Box {
	of := func(key string, from *types.Rectangle) geom.Box {
		if b := r.rect(d[key]); !b.Empty() {
			return b
		}
		if from == nil {
			return geom.EmptyBox()
		}
		return geom.Box{Min: geom.Vec{X: from.LL.X, Y: from.LL.Y}, Max: geom.Vec{X: from.UR.X, Y: from.UR.Y}}
	}
	box := of("MediaBox", inherited.MediaBox)
	if box.Empty() {
		box = geom.Box{Max: geom.Vec{X: 612, Y: 792}}
	}
	if c := of("CropBox", inherited.CropBox).Intersect(box); !c.Empty() && c.W() > 0 && c.H() > 0 {
		return c
	}
	return box
}

// place brings a page to px with y down, turned by degrees clockwise; unit is
// the size of the page's units in points.
func (r *reader) place(box geom.Box, turn int, unit float64) {
	k := pxPerPt * unit
	w, h := box.W(), box.H()
	r.flip = geom.Matrix{A: k, D: -k, E: -box.Min.X * k, F: box.Max.Y * k}
	switch ((turn % 360) + 360) % 360 {
	case 90:
		r.flip = geom.Matrix{B: k, C: k, E: -box.Min.Y * k, F: -box.Min.X * k}
		w, h = h, w
	case 180:
		r.flip = geom.Matrix{A: -k, D: k, E: box.Max.X * k, F: -box.Min.Y * k}
	case 270:
		r.flip = geom.Matrix{B: -k, C: -k, E: box.Max.Y * k, F: box.Max.X * k}
		w, h = h, w
	}
	num := func(v float64) string { return strconv.FormatFloat(v*unit, 'f', -1, 64) }
	r.sheet.Page = geom.Box{Max: geom.Vec{X: w * k, Y: h * k}}
	r.sheet.SourceUnits = geom.Scale(pxPerPt, pxPerPt)
	r.sheet.SourceWidth, r.sheet.SourceHeight = num(w)+"pt", num(h)+"pt"
	r.sheet.SourceViewBox = "0 0 " + num(w) + " " + num(h)
}

// editorData looks for what drawing programs keep beside the page content; that
// of the newer artwork files goes by the name of private or meta data.
func (r *reader) editorData(d types.Dict) {
	for _, o := range r.dict(d["PieceInfo"]) {
		r.private = true
		for k := range r.dict(r.dict(o)["Private"]) {
			if strings.HasPrefix(k, "AIPrivateData") || strings.HasPrefix(k, "AIMetaData") {
				r.sheet.Format = "AI"
			}
		}
	}
}

// content joins the streams of a page.
func (r *reader) content(o types.Object) ([]byte, error) {
	o = r.get(o)
	var out []byte
	switch v := o.(type) {
	case types.Array:
		for _, e := range v {
			if sd := r.stream(e); sd != nil {
				out = append(append(out, sd.Content...), '\n')
			}
		}
	default:
		if sd := r.stream(o); sd != nil {
			out = sd.Content
		}
	}
	return out, nil
}

// get follows references.
func (r *reader) get(o types.Object) types.Object {
	v, err := r.x.Dereference(o)
	if err != nil {
		return nil
	}
	return v
}

func (r *reader) dict(o types.Object) types.Dict {
	switch v := r.get(o).(type) {
	case types.Dict:
		return v
	case types.StreamDict:
		return v.Dict
	case *types.StreamDict:
		return v.Dict
	}
	return nil
}

// stream returns a decoded stream, nil for anything else.
func (r *reader) stream(o types.Object) *types.StreamDict {
	var sd *types.StreamDict
	switch v := r.get(o).(type) {
	case types.StreamDict:
		sd = &v
	case *types.StreamDict:
		sd = v
	default:
		return nil
	}
	if sd.Content == nil {
		r.budget.Visit()
		if err := sd.DecodeWithLimit(maxDecoded); err != nil && len(sd.Content) == 0 {
			r.sheet.Note(artwork.NoteDamagedPart, "")
			if sd.Content = partial(sd); len(sd.Content) == 0 {
				return nil
			}
		}
		r.budget.Spend(budget.Bytes, len(sd.Content))
	}
	return sd
}

// partial decodes what comes before the damage in a plainly compressed stream.
func partial(sd *types.StreamDict) []byte {
	if len(sd.FilterPipeline) != 1 || sd.FilterPipeline[0].Name != "FlateDecode" || len(sd.Raw) < 3 {
		return nil
	}
	out, _ := io.ReadAll(io.LimitReader(flate.NewReader(bytes.NewReader(sd.Raw[2:])), maxDecoded))
	return out
}

func (r *reader) array(o types.Object) types.Array {
	a, _ := r.get(o).(types.Array)
	return a
}

func (r *reader) num(o types.Object) (float64, bool) {
	switch v := r.get(o).(type) {
	case types.Integer:
		return float64(v), true
	case types.Float:
		return float64(v), true
	}
	return 0, false
}

func (r *reader) nums(o types.Object) []float64 {
	a := r.array(o)
	out := make([]float64, 0, len(a))
	for _, e := range a {
		v, ok := r.num(e)
		if !ok {
			return nil
		}
		out = append(out, v)
	}
	return out
}

func (r *reader) nameOf(o types.Object) string {
	n, _ := r.get(o).(types.Name)
	return string(n)
}

func (r *reader) text(o types.Object) string {
	s, err := r.x.DereferenceText(o)
	if err != nil {
		return ""
	}
	return s
}

func (r *reader) rect(o types.Object) geom.Box {
	v := r.nums(o)
	if len(v) != 4 {
		return geom.EmptyBox()
	}
	b := geom.EmptyBox().Grow(geom.Vec{X: v[0], Y: v[1]}).Grow(geom.Vec{X: v[2], Y: v[3]})
	if !(b.W() > 0) || !(b.H() > 0) || math.Max(b.W(), b.H()) > 1e6 {
		return geom.EmptyBox()
	}
	return b
}

func (r *reader) matrix(o types.Object) geom.Matrix {
	v := r.nums(o)
	if len(v) != 6 {
		return geom.Identity
	}
	return geom.Matrix{A: v[0], B: v[1], C: v[2], D: v[3], E: v[4], F: v[5]}
}

// id names an object that is referred to, "" for a direct one.
func id(o types.Object) string {
	switch v := o.(type) {
	case types.IndirectRef:
		return v.String()
	case *types.IndirectRef:
		return v.String()
	}
	return ""
}

// optional notes which optional content is switched off (8.11.4).
func (r *reader) optional() {
	r.hiddenOC = map[string]bool{}
	root, err := r.x.Catalog()
	if err != nil {
		return
	}
	props := r.dict(root["OCProperties"])
	if props == nil {
		return
	}
	d := r.dict(props["D"])
	if d == nil {
		return
	}
	if r.nameOf(d["BaseState"]) == "OFF" {
		for _, o := range r.array(props["OCGs"]) {
			r.hiddenOC[id(o)] = true
		}
	}
	for _, o := range r.array(d["ON"]) {
		delete(r.hiddenOC, id(o))
	}
	for _, o := range r.array(d["OFF"]) {
		r.hiddenOC[id(o)] = true
	}
}

// visibleOC reports whether a group or a membership of optional content shows.
func (r *reader) visibleOC(o types.Object) bool {
	d := r.dict(o)
	if d == nil {
		return true
	}
	if r.nameOf(d["Type"]) != "OCMD" {
		return !r.hiddenOC[id(o)]
	}
	var groups []types.Object
	if a := r.array(d["OCGs"]); a != nil {
		groups = a
	} else if d["OCGs"] != nil {
		groups = []types.Object{d["OCGs"]}
	}
	on, off := 0, 0
	for _, g := range groups {
		if r.hiddenOC[id(g)] {
			off++
		} else {
			on++
		}
	}
	if on+off == 0 {
		return true
	}
	switch r.nameOf(d["P"]) {
	case "AllOn":
		return off == 0
	case "AnyOff":
		return off > 0
	case "AllOff":
		return on == 0
	}
	return on > 0
}
