package pdf

import (
	"math"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"bildhauer/core/artwork"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/ink"
)

// space is a colour space: how many components a colour has and what it is in
// sRGB.
type space struct {
	none    bool // an ink that is never printed
	n       int
	color   func(v []float64) artwork.Color
	start   []float64
	pattern bool
	indexed bool   // its components are numbers of colours
	under   *space // of uncoloured patterns
}

var (
	grayColors = &space{
		n:     1,
		start: []float64{0},
		color: func(v []float64) artwork.Color { return ink.Gray(v[0]) },
	}
	rgbColors = &space{
		n:     3,
		start: []float64{0, 0, 0},
		color: func(v []float64) artwork.Color { return ink.RGB(v[0], v[1], v[2]) },
	}
	cmykColors = &space{
		n:     4,
		start: []float64{0, 0, 0, 1},
		color: func(v []float64) artwork.Color { return ink.CMYK(v[0], v[1], v[2], v[3]) },
	}
)

// at converts a colour; missing components are zero.
func (s *space) at(v []float64) artwork.Color {
	if len(v) < s.n {
		v = append(append([]float64(nil), v...), make([]float64, s.n-len(v))...)
	}
	return s.color(v)
}

// space returns a colour space by its object; names are looked up in the
// resources.
func (r *reader) space(o types.Object, res types.Dict, depth int) *space {
	if depth > 8 {
		return grayColors
	}
	key := id(o)
	if s, ok := r.spaces[key]; ok && key != "" {
		return s
	}
	s := r.makeSpace(r.get(o), res, depth)
	if key != "" {
		r.spaces[key] = s
	}
	return s
}

func (r *reader) makeSpace(o types.Object, res types.Dict, depth int) *space {
	if n, ok := o.(types.Name); ok {
		if s := deviceSpace(string(n)); s != nil {
			return s
		}
		if n == "Pattern" {
			return patternSpace(nil)
		}
		if spaces := r.dict(res["ColorSpace"]); spaces != nil && spaces[string(n)] != nil {
			return r.space(spaces[string(n)], nil, depth+1)
		}
		return grayColors
	}
	a, ok := o.(types.Array)
	if !ok || len(a) == 0 {
		return grayColors
	}
	// Missing operands are nil, for which each kind has an answer.
	for len(a) < 4 {
		a = append(a[:len(a):len(a)], nil)
	}
	kind := r.nameOf(a[0])
	if s := deviceSpace(kind); s != nil {
		return s
	}
	switch kind {
	case "Lab":
		return &space{
			n:     3,
			start: []float64{0, 0, 0},
			color: func(v []float64) artwork.Color { return ink.Lab(v[0], v[1], v[2]) },
		}
	case "ICCBased":
		return r.profileSpace(a, res, depth)
	case "Indexed", "I":
		return r.indexedSpace(a, res, depth)
	case "Separation", "DeviceN":
		return r.inkSpace(kind, a, res, depth)
	case "Pattern":
		if a[1] == nil {
			return patternSpace(nil)
		}
		return patternSpace(r.space(a[1], res, depth+1))
	}
	return grayColors
}

// deviceSpace returns the space of a device, or a calibrated one, which is
// shown as that; nil for other names.
func deviceSpace(name string) *space {
	switch name {
	case "DeviceGray", "G", "CalGray":
		return grayColors
	case "DeviceRGB", "RGB", "CalRGB":
		return rgbColors
	case "DeviceCMYK", "CMYK":
		return cmykColors
	}
	return nil
}

// patternSpace returns a space of patterns; those without colours of their own
// take them from under.
func patternSpace(under *space) *space {
	return &space{pattern: true, under: under, color: func([]float64) artwork.Color { return artwork.Color{} }}
}

// profileSpace shows colours of a profile as those of its alternate space, or
// of the device with as many components.
func (r *reader) profileSpace(a types.Array, res types.Dict, depth int) *space {
	d := r.dict(a[1])
	n, _ := r.num(d["N"])
	if alt := d["Alternate"]; alt != nil {
		if s := r.space(alt, res, depth+1); s.n == int(n) && !s.pattern {
			return s
		}
	}
	switch n {
	case 1:
		return grayColors
	case 4:
		return cmykColors
	}
	return rgbColors
}

func (r *reader) indexedSpace(a types.Array, res types.Dict, depth int) *space {
	base := r.space(a[1], res, depth+1)
	var table []byte
	switch t := r.get(a[3]).(type) {
	case types.StringLiteral, types.HexLiteral:
		table = r.bytes(t)
	default:
		if sd := r.stream(a[3]); sd != nil {
			table = sd.Content
		}
	}
	return &space{n: 1, indexed: true, start: []float64{0}, color: func(v []float64) artwork.Color {
		i := int(math.Max(0, math.Min(255, v[0])))
		c := make([]float64, base.n)
		for k := range c {
			if at := i*base.n + k; at < len(table) {
				c[k] = float64(table[at]) / 255
			}
		}
		return base.at(c)
	}}
}

// inkSpace shows inks by the colours that the file gives for them.
func (r *reader) inkSpace(kind string, a types.Array, res types.Dict, depth int) *space {
	n := 1
	if kind == "DeviceN" {
		n = max(1, len(r.array(a[1])))
	}
	alt := r.space(a[2], res, depth+1)
	f := r.function(a[3], 0)
	start := make([]float64, n)
	for i := range start {
		start[i] = 1
	}
	never := r.nameOf(a[1]) == "None"
	r.inks(a[1])
	return &space{n: n, start: start, none: never, color: func(v []float64) artwork.Color {
		if f == nil {
			return artwork.Color{R: 255, G: 255, B: 255}
		}
		return alt.at(f.Eval(v[:n]))
	}}
}

// inks notes the names of inks that are no process colours.
func (r *reader) inks(o types.Object) {
	names := r.array(o)
	if n := r.nameOf(o); n != "" {
		names = types.Array{types.Name(n)}
	}
	for _, e := range names {
		switch n := r.nameOf(e); n {
		case "None", "All", "Cyan", "Magenta", "Yellow", "Black", "":
		default:
			r.sheet.Note(artwork.NoteInk, "", n)
		}
	}
}

// bytes returns the bytes of a string object.
func (r *reader) bytes(o types.Object) []byte {
	switch s := r.get(o).(type) {
	case types.StringLiteral:
		if b, err := types.Unescape(s.Value()); err == nil {
			return b
		}
	case types.HexLiteral:
		if b, err := s.Bytes(); err == nil {
			return b
		}
	}
	return nil
}

// function reads a function, or one for each component.
func (r *reader) function(o types.Object, depth int) ink.Function {
	if depth > 8 {
		return nil
	}
	if a := r.array(o); a != nil {
		var j ink.Join
		for _, e := range a {
			f := r.function(e, depth+1)
			if f == nil {
				return nil
			}
			j = append(j, f)
		}
		return j
	}
	d := r.dict(o)
	if d == nil {
		return nil
	}
	kind, ok := r.num(d["FunctionType"])
	if !ok {
		return nil
	}
	domain, rng := r.nums(d["Domain"]), r.nums(d["Range"])
	switch kind {
	case 0:
		f := &ink.Sampled{
			Domain: domain,
			Range:  rng,
			Encode: r.nums(d["Encode"]),
			Decode: r.nums(d["Decode"]),
		}
		bits, _ := r.num(d["BitsPerSample"])
		f.Bits = int(bits)
		total := 1
		for _, s := range r.nums(d["Size"]) {
			f.Size = append(f.Size, int(s))
			if total *= int(s); s < 1 || total > 1<<22 {
				return nil
			}
		}
		sd := r.stream(o)
		if sd == nil || len(domain) < 2*len(f.Size) {
			return nil
		}
		f.Data = sd.Content
		return f
	case 2:
		n, _ := r.num(d["N"])
		return &ink.Exponential{Domain: domain, Range: rng, C0: r.nums(d["C0"]), C1: r.nums(d["C1"]), N: n}
	case 3:
		s := &ink.Stitch{Domain: domain, Range: rng, Bounds: r.nums(d["Bounds"]), Encode: r.nums(d["Encode"])}
		for _, e := range r.array(d["Functions"]) {
			f := r.function(e, depth+1)
			if f == nil {
				return nil
			}
			s.Parts = append(s.Parts, f)
		}
		return s
	case 4:
		if sd := r.stream(o); sd != nil {
			r.budget.Spend(budget.Steps, len(sd.Content)/4)
			if f, ok := ink.ParseCalculator(string(sd.Content), domain, rng); ok {
				return f
			}
		}
	}
	return nil
}

// shading reads a shading, once for all places that it paints.
func (r *reader) shading(o types.Object, res types.Dict) *ink.Shading {
	key := id(o)
	if s, ok := r.shadings[key]; ok && key != "" {
		r.budget.Spend(budget.Steps, 100+s.Cost)
		return s
	}
	s := r.readShading(o, res)
	r.budget.Spend(budget.Steps, 100+s.Cost)
	if key != "" {
		r.shadings[key] = s
	}
	return s
}

func (r *reader) readShading(o types.Object, res types.Dict) *ink.Shading {
	d := r.dict(o)
	kind, _ := r.num(d["ShadingType"])
	s := &ink.Shading{Kind: int(kind), Coords: r.nums(d["Coords"]), Domain: [2]float64{0, 1}}
	if v := r.nums(d["Domain"]); len(v) >= 2 {
		s.Domain = [2]float64{v[0], v[1]}
	}
	if a := r.array(d["Extend"]); len(a) >= 2 {
		for i := range 2 {
			b, _ := r.get(a[i]).(types.Boolean)
			s.Extend[i] = bool(b)
		}
	}
	f := r.function(d["Function"], 0)
	colors := r.space(d["ColorSpace"], res, 0)
	if s.Kind == 1 || s.Kind >= 4 {
		s.Samples = func() []artwork.Color { return r.sampled(o, s.Kind, f, colors) }
		return s
	}
	if f == nil {
		s.Kind = 0
		return s
	}
	s.Cost = ink.Cost(f) * 4
	s.Color = func(t float64) artwork.Color { return colors.at(f.Eval([]float64{t})) }
	return s
}

// sampled returns colours all over a shading that is no gradient: of a function
// of the place on a grid of its domain, of a mesh at its corners.
func (r *reader) sampled(o types.Object, kind int, f ink.Function, colors *space) []artwork.Color {
	d := r.dict(o)
	var out []artwork.Color
	if kind == 1 {
		domain := r.nums(d["Domain"])
		if len(domain) < 4 {
			domain = []float64{0, 1, 0, 1}
		}
		return ink.OnGrid(domain, func(v []float64) artwork.Color {
			if f == nil {
				return artwork.Color{}
			}
			return colors.at(f.Eval(v))
		})
	}
	sd := r.stream(o)
	if sd == nil {
		return nil
	}
	num := func(key string) int {
		v, _ := r.num(d[key])
		return int(v)
	}
	n := colors.n
	if f != nil {
		n = 1
	}
	mesh := ink.Mesh{
		Kind: kind, Coordinate: num("BitsPerCoordinate"), Component: num("BitsPerComponent"), Flag: num("BitsPerFlag"),
		Decode: r.nums(d["Decode"]), Data: sd.Content,
	}
	list := mesh.Colors(n)
	r.budget.Spend(budget.Steps, 4*len(list))
	for _, c := range list {
		if f != nil {
			c = f.Eval(c)
		}
		out = append(out, colors.at(c))
	}
	return out
}
