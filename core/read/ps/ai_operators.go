package ps

import (
	"math"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/ink"
)

type aiOp = func(m *machine) error

// aiOperators holds the operators of the older artwork format by name, each
// topic in a table of its own.
var aiOperators = map[string]aiOp{}

func init() {
	for _, table := range []map[string]aiOp{
		aiPaths, aiPaints, aiColors, aiStrokes, aiStructure, aiGradients, aiForeign, aiTextOperators,
	} {
		for name, f := range table {
			aiOperators[name] = f
		}
	}
}

// aiPoints calls f with n points from the stack.
func aiPoints(n int, f func(m *machine, p []geom.Vec) error) aiOp {
	return func(m *machine) error { return m.points(n, false, func(p []geom.Vec) error { return f(m, p) }) }
}

// aiSet makes an operator of one number.
func aiSet(f func(m *machine, v float64)) aiOp {
	return func(m *machine) error {
		v, err := m.num()
		if err == nil {
			f(m, v)
		}
		return err
	}
}

// aiIgnored takes a number that changes nothing that is seen.
var aiIgnored = aiSet(func(*machine, float64) {})

// aiDrop takes all operands and does nothing with them.
func aiDrop(m *machine) error {
	m.stack = m.stack[:0]
	return nil
}

var (
	aiLineTo = aiPoints(1, (*machine).lineTo)
	aiCurve  = aiPoints(3, (*machine).curveTo)
	aiFirst  = aiPoints(2, func(m *machine, p []geom.Vec) error {
		return m.curveTo([]geom.Vec{m.gs.at, p[0], p[1]})
	})
	aiSecond = aiPoints(2, func(m *machine, p []geom.Vec) error {
		return m.curveTo([]geom.Vec{p[0], p[1], p[1]})
	})
)

// Small letters mark smooth points, which changes nothing here.
var aiPaths = map[string]aiOp{
	"m": aiPoints(1, func(m *machine, p []geom.Vec) error {
		m.moveTo(p[0])
		return nil
	}),
	"l": aiLineTo,
	"L": aiLineTo,
	"c": aiCurve,
	"C": aiCurve,
	"v": aiFirst,
	"V": aiFirst,
	"y": aiSecond,
	"Y": aiSecond,
	"h": opClosepath,
	"H": func(*machine) error { return nil },
}

// aiPainter makes an operator that closes the path if asked and paints it.
func aiPainter(shut, fill, stroke bool) aiOp {
	return func(m *machine) error { return m.aiPaint(shut, fill, stroke) }
}

var aiPaints = map[string]aiOp{
	"N": aiPainter(false, false, false),
	"n": aiPainter(true, false, false),
	"F": aiPainter(false, true, false),
	"f": aiPainter(true, true, false),
	"S": aiPainter(false, false, true),
	"s": aiPainter(true, false, true),
	"B": aiPainter(false, true, true),
	"b": aiPainter(true, true, true),
	"W": func(m *machine) error {
		m.ai.doClip = true
		return nil
	},
	"*":  aiGuide,
	"XR": aiSet(func(m *machine, v float64) { m.ai.evenOdd = v != 0 }),
}

// aiGuide leaves a guide out; below it lies how it would be painted.
func aiGuide(m *machine) error {
	m.stack = m.stack[:0]
	m.aiLost(artwork.NoteGuide)
	m.gs.path, m.gs.has, m.gs.open = nil, false, false
	return nil
}

// aiInks makes an operator that sets the fill or stroke from n numbers.
func aiInks(n int, stroke bool, f func(v []float64) artwork.Color) aiOp {
	return func(m *machine) error {
		v, err := m.nums(n)
		if err == nil {
			m.aiColor(f(v), stroke)
		}
		return err
	}
}

func aiGray(v []float64) artwork.Color { return ink.Gray(v[0]) }
func aiCMYK(v []float64) artwork.Color { return ink.CMYK(v[0], v[1], v[2], v[3]) }
func aiRGB(v []float64) artwork.Color  { return ink.RGB(v[0], v[1], v[2]) }

// aiNamed makes an operator of a named ink; kinds says that its process
// colour comes with its kind.
func aiNamed(stroke, kinds bool) aiOp {
	return func(m *machine) error { return m.aiSpot(stroke, kinds) }
}

var aiColors = map[string]aiOp{
	"g":  aiInks(1, false, aiGray),
	"G":  aiInks(1, true, aiGray),
	"k":  aiInks(4, false, aiCMYK),
	"K":  aiInks(4, true, aiCMYK),
	"Xa": aiInks(3, false, aiRGB),
	"XA": aiInks(3, true, aiRGB),
	"x":  aiNamed(false, false),
	"X":  aiNamed(true, false),
	"Xx": aiNamed(false, true),
	"XX": aiNamed(true, true),
	"Xk": aiNamed(false, true),
	"XK": aiNamed(true, true),
	"p":  func(m *machine) error { return m.aiPattern(false) },
	"P":  func(m *machine) error { return m.aiPattern(true) },
}

var aiStrokes = map[string]aiOp{
	"w":  aiSet(func(m *machine, v float64) { m.gs.width = math.Abs(v) }),
	"J":  aiSet(func(m *machine, v float64) { m.gs.cap = int(v) }),
	"j":  aiSet(func(m *machine, v float64) { m.gs.join = int(v) }),
	"M":  aiSet(func(m *machine, v float64) { m.gs.miter = v }),
	"d":  opSetdash,
	"A":  aiIgnored,
	"O":  aiIgnored,
	"R":  aiIgnored,
	"i":  aiIgnored,
	"D":  aiIgnored,
	"Ar": aiIgnored,
}

func aiBeginGroup(m *machine) error {
	m.aiOpen("", false, false)
	return nil
}

func aiEndGroup(m *machine) error {
	m.aiClose()
	return nil
}

var aiStructure = map[string]aiOp{
	"*u": func(m *machine) error {
		m.ai.compound++
		return nil
	},
	"*U": aiEndCompound,
	"u":  aiBeginGroup,
	"U":  aiEndGroup,
	"q":  aiBeginGroup,
	"Q":  aiEndGroup,
	"Lb": aiBeginLayer,
	"Ln": aiNameLayer,
	"LB": aiEndGroup,
	"Xw": aiSet(func(m *machine, v float64) { m.ai.invisible = v != 0 }),
}

// aiEndCompound paints what a compound gathered as one shape.
func aiEndCompound(m *machine) error {
	if m.ai.compound > 0 {
		m.ai.compound--
	}
	if m.ai.compound > 0 || len(m.ai.parts) == 0 {
		return nil
	}
	m.gs.path, m.ai.parts = m.ai.parts, nil
	p := strings.ToLower(m.ai.paint)
	m.ai.paint = ""
	return m.aiPaint(false, p == "f" || p == "b", p == "s" || p == "b")
}

// aiBeginLayer opens a layer; the first of its flags says whether it is seen.
func aiBeginLayer(m *machine) error {
	seen := len(m.stack) == 0 || m.stack[0].f != 0
	m.stack = m.stack[:0]
	m.aiOpen("", true, !seen)
	return nil
}

func aiNameLayer(m *machine) error {
	if s, ok := m.aiString(); ok && m.ai.group >= 0 {
		m.sheet.Groups[m.ai.group].Name = s
	}
	m.stack = m.stack[:0]
	return nil
}

var aiGradients = map[string]aiOp{
	"Bd":   aiBeginRamp,
	"%_Bs": aiStop,
	"Bs":   aiStop,
	"%_Br": aiDrop,
	"BD": func(m *machine) error {
		m.ai.ramp = nil
		return aiDrop(m)
	},
	"Bb": func(m *machine) error {
		m.ai.used = false
		return nil
	},
	"Bg": aiUseRamp,
	"BB": aiEndRamp,
	"Bn": aiDrop,
	"Bm": aiDrop,
	"Bh": aiDrop,
	"Bc": aiDrop,
	"Xm": aiDrop,
}

var aiForeign = map[string]aiOp{
	"XI": func(m *machine) error {
		m.images++
		m.sheet.Note(artwork.NoteBitmap, "")
		return aiDrop(m)
	},
	"`": func(m *machine) error { // a placed file, which follows
		where, _ := m.aiString()
		m.sheet.Note(artwork.NotePlacedFile, where)
		m.skipTo("%%EndDocument")
		return aiDrop(m)
	},
}
