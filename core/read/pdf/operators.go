package pdf

import (
	"math"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
)

// operators of content streams by name (ISO 32000-1, annex A), each topic in a
// table of its own. Operators with too few operands or with wrong ones do
// nothing, and unknown ones are passed over, as the standard asks of readers.
var operators = map[string]func(c *run, args []any) error{}

func init() {
	for _, table := range []map[string]func(c *run, args []any) error{
		stateOperators, pathOperators, paintOperators, colorOperators, markOperators, textOperators,
	} {
		for name, f := range table {
			operators[name] = f
		}
	}
}

func (c *run) operator(op string, args []any) error {
	if f := operators[op]; f != nil {
		return f(c, args)
	}
	return nil
}

// last returns the last operand.
func last(args []any) float64 {
	v, _ := floats(args, 1)
	return v[0]
}

// word returns the last operand, a name.
func word(args []any) name {
	if len(args) == 0 {
		return ""
	}
	n, _ := args[len(args)-1].(name)
	return n
}

// matrixOf returns the last six operands as a map.
func matrixOf(args []any) (geom.Matrix, bool) {
	v, ok := floats(args, 6)
	m := geom.Matrix{A: v[0], B: v[1], C: v[2], D: v[3], E: v[4], F: v[5]}
	return m, ok && m.Finite()
}

// points calls f with the last 2n operands as points.
func points(n int, f func(c *run, p []geom.Vec) error) func(c *run, args []any) error {
	return func(c *run, args []any) error {
		v, ok := floats(args, 2*n)
		if !ok {
			return nil
		}
		p := make([]geom.Vec, n)
		for i := range p {
			p[i] = geom.Vec{X: v[2*i], Y: v[2*i+1]}
		}
		return f(c, p)
	}
}

// set makes an operator of one number that changes the state.
func set(f func(g *state, v float64)) func(c *run, args []any) error {
	return func(c *run, args []any) error {
		f(c.g, last(args))
		return nil
	}
}

func ignore(*run, []any) error { return nil }

var stateOperators = map[string]func(c *run, args []any) error{
	"q": func(c *run, _ []any) error {
		if len(c.saved) < maxSaved {
			s := *c.g
			c.saved = append(c.saved, &s)
		}
		return nil
	},
	"Q": func(c *run, _ []any) error {
		if n := len(c.saved); n > 0 {
			c.g, c.saved = c.saved[n-1], c.saved[:n-1]
		}
		return nil
	},
	"cm": func(c *run, args []any) error {
		if m, ok := matrixOf(args); ok {
			if m = c.g.ctm.Mul(m); m.Finite() {
				c.g.ctm = m
			}
		}
		return nil
	},
	"w": set(func(g *state, v float64) { g.width = math.Abs(v) }),
	"J": set(func(g *state, v float64) { g.cap = int(v) }),
	"j": set(func(g *state, v float64) { g.join = int(v) }),
	"M": set(func(g *state, v float64) { g.miter = v }),
	"d": func(c *run, args []any) error {
		if len(args) < 2 {
			return nil
		}
		lengths, _ := args[len(args)-2].([]any)
		c.g.dash = nil
		for _, e := range lengths {
			v, _ := e.(float64)
			c.g.dash = append(c.g.dash, v)
		}
		c.g.dashAt = last(args)
		return nil
	},
	"gs": func(c *run, args []any) error {
		c.extState(c.r.dict(c.resource("ExtGState", word(args))))
		return nil
	},
	"i":  ignore,
	"ri": ignore,
}

var pathOperators = map[string]func(c *run, args []any) error{
	"m": points(1, func(c *run, p []geom.Vec) error { return c.moveTo(p[0]) }),
	"l": points(1, func(c *run, p []geom.Vec) error { return c.add(geom.Segment{To: p[0]}) }),
	"c": points(3, func(c *run, p []geom.Vec) error { return c.curve(p[0], p[1], p[2]) }),
	"v": points(2, func(c *run, p []geom.Vec) error { return c.curve(c.at, p[0], p[1]) }),
	"y": points(2, func(c *run, p []geom.Vec) error { return c.curve(p[0], p[1], p[1]) }),
	"h": func(c *run, _ []any) error {
		c.closePath()
		return nil
	},
	"re": points(2, func(c *run, p []geom.Vec) error { // the second is width and height
		if err := c.moveTo(p[0]); err != nil {
			return err
		}
		to := p[0].Add(p[1])
		for _, v := range []geom.Vec{{X: to.X, Y: p[0].Y}, to, {X: p[0].X, Y: to.Y}} {
			if err := c.add(geom.Segment{To: v}); err != nil {
				return err
			}
		}
		c.closePath()
		return nil
	}),
}

func (c *run) curve(c1, c2, to geom.Vec) error {
	return c.add(geom.Segment{Kind: geom.Cubic, C1: c1, C2: c2, To: to})
}

// The rules by which paths are filled and clips cut.
const (
	noFill = iota
	nonZero
	evenOdd
)

// painter makes an operator that closes the path if asked and paints it.
func painter(shut bool, fill int, stroke bool) func(c *run, args []any) error {
	return func(c *run, _ []any) error {
		if shut {
			c.closePath()
		}
		return c.paintPath(fill, stroke)
	}
}

func clipper(rule int) func(c *run, args []any) error {
	return func(c *run, _ []any) error {
		c.clipped = rule
		return nil
	}
}

var paintOperators = map[string]func(c *run, args []any) error{
	"S":  painter(false, noFill, true),
	"s":  painter(true, noFill, true),
	"f":  painter(false, nonZero, false),
	"F":  painter(false, nonZero, false),
	"f*": painter(false, evenOdd, false),
	"B":  painter(false, nonZero, true),
	"B*": painter(false, evenOdd, true),
	"b":  painter(true, nonZero, true),
	"b*": painter(true, evenOdd, true),
	"n":  painter(false, noFill, false),
	"W":  clipper(nonZero),
	"W*": clipper(evenOdd),
	"sh": func(c *run, args []any) error { return c.shadeArea(c.resource("Shading", word(args))) },
	"Do": func(c *run, args []any) error { return c.do(word(args)) },
}

// colorer makes an operator that sets the paint of fills or strokes.
func colorer(stroke bool, f func(c *run, p *paint, args []any)) func(c *run, args []any) error {
	return func(c *run, args []any) error {
		p := &c.g.fill
		if stroke {
			p = &c.g.stroke
		}
		f(c, p, args)
		return nil
	}
}

func inSpace(c *run, p *paint, args []any) { c.setSpace(p, word(args)) }

// device sets a colour of a device's own space.
func device(s *space) func(c *run, p *paint, args []any) {
	return func(c *run, p *paint, args []any) { c.device(p, s, args) }
}

var colorOperators = map[string]func(c *run, args []any) error{
	"CS":  colorer(true, inSpace),
	"cs":  colorer(false, inSpace),
	"SC":  colorer(true, (*run).setColor),
	"SCN": colorer(true, (*run).setColor),
	"sc":  colorer(false, (*run).setColor),
	"scn": colorer(false, (*run).setColor),
	"G":   colorer(true, device(grayColors)),
	"g":   colorer(false, device(grayColors)),
	"RG":  colorer(true, device(rgbColors)),
	"rg":  colorer(false, device(rgbColors)),
	"K":   colorer(true, device(cmykColors)),
	"k":   colorer(false, device(cmykColors)),
}

var markOperators = map[string]func(c *run, args []any) error{
	"BMC": func(c *run, args []any) error {
		c.beginMark(args)
		return nil
	},
	"BDC": func(c *run, args []any) error {
		c.beginMark(args)
		return nil
	},
	"EMC": func(c *run, _ []any) error {
		n := len(c.marks)
		if n == 0 {
			return nil
		}
		m := c.marks[n-1]
		c.marks = c.marks[:n-1]
		c.group = m.group
		if m.hidden {
			c.hidden--
		}
		return nil
	},
	"MP": ignore,
	"DP": ignore,
	"BX": ignore,
	"EX": ignore,
	"d0": func(c *run, args []any) error {
		v, _ := floats(args, 2)
		c.width = v[0]
		return nil
	},
	"d1": func(c *run, args []any) error {
		v, _ := floats(args, 6)
		c.width, c.g.fixedColor = v[0], true
		return nil
	},
}

// textArg returns the last operand, a string.
func textArg(args []any) string {
	if len(args) == 0 {
		return ""
	}
	s, _ := args[len(args)-1].(string)
	return s
}

// onNextLine shows a string on the next line.
func onNextLine(c *run, args []any) error {
	c.nextLine(0, -c.g.leading)
	return c.show([]any{textArg(args)})
}

var textOperators = map[string]func(c *run, args []any) error{
	"BT": func(c *run, _ []any) error {
		c.tm, c.tlm = geom.Identity, geom.Identity
		c.textClip = nil
		return nil
	},
	"ET": func(c *run, _ []any) error {
		if len(c.textClip) == 0 {
			return nil
		}
		it := artwork.ClipItem{Contours: c.textClip, Matrix: c.r.flip}
		clips := c.g.clips[:len(c.g.clips):len(c.g.clips)]
		c.g.clips = append(clips, &artwork.Clip{Items: []artwork.ClipItem{it}})
		c.textClip = nil
		return nil
	},
	"Tc": set(func(g *state, v float64) { g.charGap = v }),
	"Tw": set(func(g *state, v float64) { g.wordGap = v }),
	"Tz": set(func(g *state, v float64) { g.stretch = v / 100 }),
	"TL": set(func(g *state, v float64) { g.leading = v }),
	"Ts": set(func(g *state, v float64) { g.rise = v }),
	"Tr": set(func(g *state, v float64) { g.mode = int(v) }),
	"Tf": func(c *run, args []any) error {
		if len(args) >= 2 {
			n, _ := args[len(args)-2].(name)
			c.g.font = c.r.font(c.resource("Font", n), c)
			c.g.size = last(args)
		}
		return nil
	},
	"Td": points(1, func(c *run, p []geom.Vec) error {
		c.nextLine(p[0].X, p[0].Y)
		return nil
	}),
	"TD": points(1, func(c *run, p []geom.Vec) error {
		c.g.leading = -p[0].Y
		c.nextLine(p[0].X, p[0].Y)
		return nil
	}),
	"Tm": func(c *run, args []any) error {
		if m, ok := matrixOf(args); ok {
			c.tm, c.tlm = m, m
		}
		return nil
	},
	"T*": func(c *run, _ []any) error {
		c.nextLine(0, -c.g.leading)
		return nil
	},
	"Tj": func(c *run, args []any) error { return c.show([]any{textArg(args)}) },
	"'":  onNextLine,
	"\"": func(c *run, args []any) error {
		if len(args) >= 3 {
			c.g.wordGap, _ = args[len(args)-3].(float64)
			c.g.charGap, _ = args[len(args)-2].(float64)
		}
		return onNextLine(c, args)
	},
	"TJ": func(c *run, args []any) error {
		if len(args) == 0 {
			return nil
		}
		parts, _ := args[len(args)-1].([]any)
		return c.show(parts)
	},
}
