package ps

import (
	"math"

	"bildhauer/core/read/budget"
)

// stateOps are the operators on the graphics state.
var stateOps = map[string]op{
	"gsave":             opGsave,
	"grestore":          opGrestore,
	"grestoreall":       opGrestoreall,
	"initgraphics":      func(m *machine) error { m.gs = newState(); return nil },
	"gstate":            func(m *machine) error { return m.push(object{kind: kGState, ref: m.gs.clone()}) },
	"currentgstate":     opCurrentgstate,
	"setgstate":         opSetgstate,
	"setlinewidth":      setNum(func(g *state, v float64) { g.width = math.Abs(v) }),
	"setlinecap":        setNum(func(g *state, v float64) { g.cap = int(v) }),
	"setlinejoin":       setNum(func(g *state, v float64) { g.join = int(v) }),
	"setmiterlimit":     setNum(func(g *state, v float64) { g.miter = v }),
	"setflat":           setNum(func(g *state, v float64) { g.flat = v }),
	"setdash":           opSetdash,
	"currentlinewidth":  func(m *machine) error { return m.push(realNum(m.gs.width)) },
	"currentlinecap":    func(m *machine) error { return m.push(integer(m.gs.cap)) },
	"currentlinejoin":   func(m *machine) error { return m.push(integer(m.gs.join)) },
	"currentmiterlimit": func(m *machine) error { return m.push(realNum(m.gs.miter)) },
	"currentflat":       func(m *machine) error { return m.push(realNum(m.gs.flat)) },
	"currentdash":       opCurrentdash,
}

func opGsave(m *machine) error {
	// The contours so far are copied.
	m.budget.Spend(budget.Memory, len(m.gs.path)+1)
	if len(m.saved) > maxSaved {
		return m.err("limitcheck")
	}
	m.saved = append(m.saved, m.gs.clone())
	return nil
}

func opGrestore(m *machine) error {
	if n := len(m.saved); n > 0 {
		m.gs, m.saved = m.saved[n-1], m.saved[:n-1]
	}
	return nil
}

func opGrestoreall(m *machine) error {
	if len(m.saved) > 0 {
		m.gs, m.saved = m.saved[0], m.saved[:0]
	}
	return nil
}

func opCurrentgstate(m *machine) error {
	_, err := m.pop()
	return first(err, m.push(object{kind: kGState, ref: m.gs.clone()}))
}

func opSetgstate(m *machine) error {
	o, err := m.pop()
	if g, ok := o.ref.(*state); ok {
		m.gs = g.clone()
	}
	return err
}

func opSetdash(m *machine) error {
	at, err := m.num()
	if err != nil {
		return err
	}
	o, err := m.pop()
	if err != nil {
		return err
	}
	d, ok := m.numArray(o)
	if !ok {
		return m.err("typecheck")
	}
	m.gs.dash, m.gs.dashAt = d, at
	return nil
}

func opCurrentdash(m *machine) error {
	a := &array{}
	for _, d := range m.gs.dash {
		a.v = append(a.v, realNum(d))
	}
	m.push(object{kind: kArray, ref: a})
	return m.push(realNum(m.gs.dashAt))
}
