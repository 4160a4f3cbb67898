package ps

import (
	"math"

	"bildhauer/core/geom"
)

// matrixOps are the operators on matrices.
var matrixOps = map[string]op{
	"translate":     opTranslate,
	"scale":         opScale,
	"rotate":        opRotate,
	"concat":        opConcat,
	"setmatrix":     opSetmatrix,
	"initmatrix":    func(m *machine) error { m.gs.ctm = geom.Identity; return nil },
	"matrix":        func(m *machine) error { return m.push(matrixObject(geom.Identity)) },
	"identmatrix":   func(m *machine) error { return m.fillMatrix(geom.Identity) },
	"currentmatrix": func(m *machine) error { return m.fillMatrix(m.gs.ctm) },
	"defaultmatrix": func(m *machine) error { return m.fillMatrix(geom.Identity) },
	"invertmatrix":  opInvertmatrix,
	"concatmatrix":  opConcatmatrix,
	"transform":     func(m *machine) error { return m.mapPoint(false, false) },
	"dtransform":    func(m *machine) error { return m.mapPoint(true, false) },
	"itransform":    func(m *machine) error { return m.mapPoint(false, true) },
	"idtransform":   func(m *machine) error { return m.mapPoint(true, true) },
}

func opTranslate(m *machine) error {
	return m.concat(2, func(a []float64) geom.Matrix { return geom.Translate(a[0], a[1]) })
}

func opScale(m *machine) error {
	return m.concat(2, func(a []float64) geom.Matrix { return geom.Scale(a[0], a[1]) })
}

func opRotate(m *machine) error {
	return m.concat(1, func(a []float64) geom.Matrix { return geom.Rotate(a[0] * math.Pi / 180) })
}

func opConcat(m *machine) error {
	t, err := m.matrixArg()
	if err == nil {
		m.gs.ctm = m.gs.ctm.Mul(t)
	}
	return err
}

func opSetmatrix(m *machine) error {
	t, err := m.matrixArg()
	if err == nil {
		m.gs.ctm = t
	}
	return err
}

func opInvertmatrix(m *machine) error {
	to, err := m.pop()
	if err != nil {
		return err
	}
	t, err := m.matrixArg()
	if err != nil {
		return err
	}
	if t.Det() == 0 {
		return m.err("undefinedresult")
	}
	m.push(to)
	return m.fillMatrix(t.Inverse())
}

func opConcatmatrix(m *machine) error {
	to, err := m.pop()
	if err != nil {
		return err
	}
	b, err := m.matrixArg()
	if err != nil {
		return err
	}
	a, err := m.matrixArg()
	if err != nil {
		return err
	}
	m.push(to)
	return m.fillMatrix(b.Mul(a))
}
