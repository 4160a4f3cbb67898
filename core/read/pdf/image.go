package pdf

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
	"bildhauer/core/read/trace"
)

// smallMask is how many samples a mask of one bit may have to become outlines along their very
// edges, as rules, bullets and the letters of bitmap fonts are drawn; those of larger ones are
// traced as what was scanned.
const smallMask = 4096

// image paints a bitmap: a mask of one bit as outlines in the current colour, others as shapes
// if bitmaps are traced. Else it is counted, and its frame offered.
func (c *run) image(o types.Object, d types.Dict) error {
	r := c.r
	if c.hidden > 0 {
		return nil
	}
	if mask, _ := r.get(d["ImageMask"]).(types.Boolean); bool(mask) {
		if done, err := c.dots(o, d); done || err != nil {
			return err
		}
	}
	r.images++
	place := r.flip.Mul(c.g.ctm).Mul(geom.Matrix{A: 1, D: -1, F: 1})
	like := artwork.Shape{
		Group: c.group, Opacity: c.g.fillAlpha * c.g.groupAlpha, Blend: c.g.blend,
		Soft: c.g.soft || c.g.groupSoft, Clips: c.clips(),
	}
	p := trace.Placed{Matrix: place, Like: like}
	if r.tracing.Pictures {
		p.Image = r.picture(o, d)
	}
	if p.Image != nil {
		if done, err := trace.Inside(r.sheet, p, r.tracing, r.budget); done || err != nil {
			return err
		}
	} else {
		r.sheet.Pictures++
	}
	r.sheet.NoteAt(artwork.NoteBitmap, "", unit.Transform(r.flip.Mul(c.g.ctm)))
	r.sheet.AddBitmap(r.flip.Mul(c.g.ctm), c.group, false)
	return nil
}

// unit is where bitmaps lie before the matrix.
var unit = geom.Box{Max: geom.Vec{X: 1, Y: 1}}

// inlineNames are the short names of an inline image and its filters (ISO 32000-1, tables 93
// and 94).
var inlineNames = map[name]string{
	"BPC": "BitsPerComponent", "CS": "ColorSpace", "D": "Decode", "DP": "DecodeParms", "F": "Filter",
	"H": "Height", "IM": "ImageMask", "I": "Interpolate", "W": "Width", "L": "Length",
	"AHx": "ASCIIHexDecode", "A85": "ASCII85Decode", "LZW": "LZWDecode", "Fl": "FlateDecode",
	"RL": "RunLengthDecode", "CCF": "CCITTFaxDecode", "DCT": "DCTDecode",
}

// inline paints an image that stands in the content.
func (c *run) inline(entries map[name]any, data []byte) error {
	d := types.Dict{}
	for k, v := range entries {
		long := string(k)
		if full, ok := inlineNames[k]; ok {
			long = full
		}
		d[long] = objectOf(v, long == "Filter")
	}
	sd := types.StreamDict{Dict: d, Raw: data}
	filters := c.r.array(d["Filter"])
	if n := c.r.nameOf(d["Filter"]); n != "" {
		filters = types.Array{types.Name(n)}
	}
	parms := c.r.array(d["DecodeParms"])
	if p := c.r.dict(d["DecodeParms"]); p != nil {
		parms = types.Array{p}
	}
	for i, f := range filters {
		p := types.PDFFilter{Name: c.r.nameOf(f)}
		if i < len(parms) {
			p.DecodeParms = c.r.dict(parms[i])
		}
		sd.FilterPipeline = append(sd.FilterPipeline, p)
	}
	if len(filters) == 0 {
		sd.Content = data
	}
	return c.image(sd, d)
}

// objectOf turns a value of the content into an object of the file.
func objectOf(v any, filter bool) types.Object {
	switch x := v.(type) {
	case float64:
		return types.Float(x)
	case bool:
		return types.Boolean(x)
	case string:
		return types.NewHexLiteral([]byte(x))
	case name:
		if full, ok := inlineNames[x]; ok && filter {
			return types.Name(full)
		}
		return types.Name(x)
	case []any:
		out := make(types.Array, len(x))
		for i, e := range x {
			out[i] = objectOf(e, filter)
		}
		return out
	case map[name]any:
		out := types.Dict{}
		for k, e := range x {
			out[string(k)] = objectOf(e, false)
		}
		return out
	}
	return nil
}

// dots outlines a mask of one bit.
func (c *run) dots(o types.Object, d types.Dict) (done bool, err error) {
	r := c.r
	fw, _ := r.num(d["Width"])
	fh, _ := r.num(d["Height"])
	w, h := int(fw), int(fh)
	if w < 1 || h < 1 || w > ink.MaxTrace/h {
		return false, nil
	}
	sd := r.stream(o)
	if sd == nil || len(sd.FilterPipeline) > 0 && len(sd.Content) < (w+7)/8*h {
		return false, nil
	}
	dec := r.nums(d["Decode"])
	set := ink.Bit(sd.Content, w, len(dec) > 0 && dec[0] == 1)
	r.budget.Spend(budget.Steps, w*h/4)
	var path []geom.Contour
	if c.g.fixedColor || w*h <= smallMask {
		path = ink.Trace(w, h, set)
	} else if path, err = trace.Mask(w, h, set, r.budget); err != nil {
		return false, err
	}
	for _, k := range path {
		r.budget.Spend(budget.Nodes, len(k.Segs)+1)
	}
	if len(path) == 0 {
		return true, nil
	}
	if c.g.fixedColor {
		r.sheet.Note(artwork.NoteDotLetters, "")
	}
	m := r.flip.Mul(c.g.ctm).Mul(geom.Matrix{A: 1 / float64(w), D: -1 / float64(h), F: 1})
	return true, c.shape(path, m, true, nil, c.g.fill, c.g.fillAlpha)
}

// picture decodes a bitmap with its own mask; nil for one that can't be.
func (r *reader) picture(o types.Object, d types.Dict) image.Image {
	m := r.colors(o, d)
	if m == nil {
		return nil
	}
	over, inverse := d["SMask"], false
	if r.dict(over) == nil {
		over, inverse = d["Mask"], true // a stencil: what is set is left out
	}
	if md := r.dict(over); md != nil {
		if mask := r.colors(over, md); mask != nil {
			veil(m, mask, inverse)
		}
	}
	return m
}

// veil makes a picture clear where its mask is dark.
func veil(m, mask *image.NRGBA, inverse bool) {
	size, own := m.Bounds().Size(), mask.Bounds().Size()
	for y := range size.Y {
		for x := range size.X {
			a := mask.NRGBAAt(x*own.X/size.X, y*own.Y/size.Y).R
			if inverse {
				a = 255 - a
			}
			m.Pix[m.PixOffset(x, y)+3] = a
		}
	}
}

// colors decodes the samples of a bitmap.
func (r *reader) colors(o types.Object, d types.Dict) *image.NRGBA {
	fw, _ := r.num(d["Width"])
	fh, _ := r.num(d["Height"])
	if !(fw >= 1 && fh >= 1 && fw*fh <= trace.MostPixels) {
		return nil
	}
	if m := r.photograph(o); m != nil {
		return m
	}
	bits, _ := r.num(d["BitsPerComponent"])
	space := grayColors
	if mask, _ := r.get(d["ImageMask"]).(types.Boolean); bool(mask) {
		bits = 1
	} else if cs := d["ColorSpace"]; cs != nil {
		space = r.space(cs, nil, 0)
	}
	s := ink.Samples{
		W: int(fw), H: int(fh), Bits: int(bits), N: space.n, Decode: r.nums(d["Decode"]), Color: space.at,
	}
	if len(s.Decode) == 0 && space.indexed {
		s.Decode = []float64{0, float64(uint(1)<<min(s.Bits, 16) - 1)}
	}
	if space.pattern || !s.Fits(trace.MostPixels) {
		return nil
	}
	sd := r.stream(o)
	if sd == nil || len(sd.Content) == 0 {
		return nil
	}
	r.budget.Spend(budget.Bytes, 5*s.W*s.H)
	s.Data = sd.Content
	return s.Image()
}

// photograph decodes a bitmap that is packed as JPEG; nil for others.
func (r *reader) photograph(o types.Object) *image.NRGBA {
	var sd types.StreamDict
	switch v := r.get(o).(type) {
	case types.StreamDict:
		sd = v
	case *types.StreamDict:
		sd = *v
	}
	n := len(sd.FilterPipeline)
	if n == 0 || sd.FilterPipeline[n-1].Name != "DCTDecode" {
		return nil
	}
	data := sd.Raw
	if n > 1 {
		rest := types.StreamDict{Dict: sd.Dict, Raw: sd.Raw, FilterPipeline: sd.FilterPipeline[:n-1]}
		if rest.DecodeWithLimit(maxDecoded) != nil {
			return nil
		}
		data = rest.Content
	}
	head, err := jpeg.DecodeConfig(bytes.NewReader(data))
	if err != nil || head.Width*head.Height > trace.MostPixels {
		return nil
	}
	r.budget.Spend(budget.Bytes, len(data)+8*head.Width*head.Height)
	m, err := jpeg.Decode(bytes.NewReader(data))
	if err != nil {
		return nil
	}
	b := m.Bounds()
	out := image.NewNRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	for y := range b.Dy() {
		for x := range b.Dx() {
			out.SetNRGBA(x, y, color.NRGBAModel.Convert(m.At(b.Min.X+x, b.Min.Y+y)).(color.NRGBA))
		}
	}
	return out
}
