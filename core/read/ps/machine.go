package ps

import (
	"errors"
	"fmt"
	"math"
	"strconv"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font"
	"bildhauer/core/read/trace"
)

// Limits that PostScript itself has (PLRM, appendix B): beyond them a program
// gets an error that it may catch. What a file may take altogether is the
// budget's.
const (
	maxStack  = 100_000
	maxDicts  = 400
	maxSaved  = 5000
	maxLength = 4_000_000 // of one array or string
)

var (
	errExit = errors.New("exit")
	errStop = errors.New("stop")
	errQuit = errors.New("quit")
)

// fail is a PostScript error, which stopped can catch.
type fail struct{ name, at string }

func (f *fail) Error() string { return f.name + " in " + f.at }

// state is the graphics state.
type state struct {
	ctm       geom.Matrix
	path      []geom.Contour
	at        geom.Vec // current point, device space
	start     geom.Vec
	open      bool // the last contour can be continued
	has       bool // there is a current point
	color     artwork.Color
	pattern   *pattern // nil for a plain colour
	width     float64
	cap, join int
	miter     float64
	dash      []float64
	dashAt    float64
	clips     []*artwork.Clip
	space     object // colour space as set
	font      object
	flat      float64
}

func (g *state) clone() *state {
	c := *g
	c.path = append([]geom.Contour(nil), g.path...)
	for i := range c.path {
		c.path[i].Segs = c.path[i].Segs[:len(c.path[i].Segs):len(c.path[i].Segs)]
	}
	return &c
}

// machine runs a program.
type machine struct {
	stack   []object
	dicts   []*dict
	system  *dict
	user    *dict
	gs      *state
	saved   []*state
	src     *scanner
	sheet   *artwork.Sheet
	budget  *budget.Budget
	images  int
	tracing trace.Settings
	wanted  int  // the page that is painted, from 1
	shown   int  // pages so far
	done    bool // showpage has come
	page    geom.Box
	flip    geom.Matrix // from device (points, y up) to the page
	rand    uint32
	op      string
	lastErr string

	clipStack [][]*artwork.Clip
	resources map[string]object // by category/key

	library    *font.Library
	fonts      *dict         // those defined or found
	programs   map[*dict]any // made from the glyphs of a font dictionary
	told       map[string]bool
	fontDepth  int
	silent     bool     // nothing is painted, as when measuring
	charWidth  geom.Vec // set by the glyph that runs
	ai         *aiState // while artwork operators run
	lenient    bool     // unknown words and wrong operands are passed over
	fixedColor bool     // the glyph that runs takes the colour of its text
}

func (m *machine) push(o object) error {
	if len(m.stack) >= maxStack {
		return m.err("stackoverflow")
	}
	m.stack = append(m.stack, o)
	return nil
}

func (m *machine) err(name string) error {
	return &fail{name, m.op}
}

func (m *machine) pop() (object, error) {
	if len(m.stack) == 0 {
		return object{}, m.err("stackunderflow")
	}
	o := m.stack[len(m.stack)-1]
	m.stack = m.stack[:len(m.stack)-1]
	return o, nil
}

// popRef pops what a composite object refers to: a *dict, an *array or a *str; any
// other object is a typecheck.
func popRef[T any](m *machine) (ref T, err error) {
	o, err := m.pop()
	if err != nil {
		return ref, err
	}
	ref, ok := o.ref.(T)
	if !ok {
		return ref, m.err("typecheck")
	}
	return ref, nil
}

// pop2 pops two objects and returns them in the order in which they were pushed.
func (m *machine) pop2() (a, b object, err error) {
	n := len(m.stack)
	if n < 2 {
		return a, b, m.err("stackunderflow")
	}
	a, b = m.stack[n-2], m.stack[n-1]
	m.stack = m.stack[:n-2]
	return a, b, nil
}

func (m *machine) num() (float64, error) {
	o, err := m.pop()
	if err != nil {
		return 0, err
	}
	if !o.number() {
		return 0, m.err("typecheck")
	}
	return o.f, nil
}

// nums pops n numbers and returns them in the order in which they were pushed.
func (m *machine) nums(n int) ([]float64, error) {
	if len(m.stack) < n {
		return nil, m.err("stackunderflow")
	}
	out := make([]float64, n)
	for i, o := range m.stack[len(m.stack)-n:] {
		if !o.number() {
			return nil, m.err("typecheck")
		}
		out[i] = o.f
	}
	m.stack = m.stack[:len(m.stack)-n]
	return out, nil
}

func (m *machine) intArg() (int, error) {
	o, err := m.pop()
	if err != nil {
		return 0, err
	}
	if !o.number() {
		return 0, m.err("typecheck")
	}
	if o.kind == kReal {
		return int(o.f), nil
	}
	return o.n, nil
}

func (m *machine) proc() (*array, error) {
	a, err := popRef[*array](m)
	if err != nil {
		return nil, err
	}
	return a, nil
}

func (m *machine) boolArg() (bool, error) {
	o, err := m.pop()
	if err != nil {
		return false, err
	}
	if o.kind != kBool {
		return false, m.err("typecheck")
	}
	return o.n != 0, nil
}

func (m *machine) numArray(o object) ([]float64, bool) {
	a, ok := o.ref.(*array)
	if !ok {
		return nil, false
	}
	out := make([]float64, len(a.v))
	for i, e := range a.v {
		if !e.number() {
			return nil, false
		}
		out[i] = e.f
	}
	return out, true
}

// key returns the form in which an object names an entry of a dictionary.
func key(o object) string {
	switch o.kind {
	case kName:
		return o.s
	case kString:
		return string(o.ref.(*str).b)
	case kInt, kBool:
		return "\x00" + strconv.Itoa(o.n)
	case kReal:
		if o.f == math.Trunc(o.f) {
			return "\x00" + strconv.Itoa(o.n)
		}
		return "\x00" + strconv.FormatFloat(o.f, 'g', -1, 64)
	}
	return fmt.Sprintf("\x01%d %p", o.kind, o.ref)
}

func (m *machine) lookup(k string) (object, bool) {
	for i := len(m.dicts) - 1; i >= 0; i-- {
		if o, ok := m.dicts[i].m[k]; ok {
			return o, true
		}
	}
	return object{}, false
}

// run executes the tokens of a scanner.
func (m *machine) run(s *scanner) error {
	old := m.src
	m.src = s
	defer func() { m.src = old }()
	for !m.done {
		o, ok := s.next()
		if !ok {
			return nil
		}
		if o.kind == kName && o.exec && o.s == "{" {
			p, err := m.readProc(s)
			if err != nil {
				return err
			}
			if err := m.push(p); err != nil {
				return err
			}
			continue
		}
		if err := m.exec(o, true); err != nil {
			var f *fail
			if m.lenient && errors.As(err, &f) && f.name != "limitcheck" && f.name != "VMerror" {
				m.stack = m.stack[:0]
				continue
			}
			return err
		}
	}
	return nil
}

// readProc reads up to the closing brace.
func (m *machine) readProc(s *scanner) (object, error) {
	defer m.budget.Leave()
	if !m.budget.Enter() {
		return object{}, m.err("limitcheck")
	}
	a := &array{}
	for {
		o, ok := s.next()
		if !ok {
			return object{}, m.err("syntaxerror")
		}
		m.budget.Spend(budget.Memory, 1)
		if o.kind == kName && o.exec {
			switch {
			case o.s == "{":
				p, err := m.readProc(s)
				if err != nil {
					return object{}, err
				}
				a.v = append(a.v, p)
				continue
			case o.s == "}":
				return object{kind: kArray, exec: true, ref: a}, nil
			case o.n == 1: // immediately evaluated
				v, ok := m.lookup(o.s)
				if !ok {
					return object{}, m.err("undefined")
				}
				a.v = append(a.v, v)
				continue
			}
		}
		a.v = append(a.v, o)
	}
}

// exec executes one object; direct says that it comes from the program text
// or a procedure, where procedures are pushed and not run.
func (m *machine) exec(o object, direct bool) error {
	m.budget.Visit()
	if !o.exec {
		return m.push(o)
	}
	switch o.kind {
	case kName:
		if o.s == "}" {
			return nil
		}
		v, ok := m.lookup(o.s)
		if !ok {
			m.op = o.s
			return m.err("undefined")
		}
		if v.kind == kOp {
			m.op = o.s
			return v.ref.(func(*machine) error)(m)
		}
		if o.n == 1 {
			return m.push(v)
		}
		return m.deeper(func() error { return m.exec(v, false) })
	case kArray:
		if direct {
			return m.push(o)
		}
		return m.call(o.ref.(*array))
	case kOp:
		m.op = o.s
		return o.ref.(func(*machine) error)(m)
	case kString:
		return m.deeper(func() error { return m.run(&scanner{b: o.ref.(*str).b}) })
	case kFile:
		return m.runFile(o)
	case kNull:
		return nil
	}
	return m.push(o)
}

// deeper runs f one level down: a name may stand for a name, and a string for
// a program, without end.
func (m *machine) deeper(f func() error) error {
	defer m.budget.Leave()
	if !m.budget.Enter() {
		return m.err("execstackoverflow")
	}
	return f()
}

// call runs a procedure.
func (m *machine) call(a *array) error {
	defer m.budget.Leave()
	if !m.budget.Enter() {
		return m.err("execstackoverflow")
	}
	for i := 0; i < len(a.v); i++ {
		if m.done {
			return nil
		}
		if err := m.exec(a.v[i], true); err != nil {
			return err
		}
	}
	return nil
}
