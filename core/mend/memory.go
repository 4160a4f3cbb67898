package mend

import (
	"sync"

	"bildhauer/core/artwork"
	"bildhauer/core/gauge"
	"bildhauer/core/geom"
	"bildhauer/core/plane"
)

// memory is what one look leaves to the next while proposals are taken, so that what did not change is not
// worked out again. Nothing that is found depends on it.
type memory struct {
	known map[string]Finding // by their signs: what their proposals do does not change by the others

	mu         sync.Mutex
	tol        float64
	areas      map[string]areaOf // of shapes, by their keys
	old, fresh map[string]*gauge.Memory
}

// areaOf is the area of a shape, as it was.
type areaOf struct {
	shape  *artwork.Shape
	region plane.Region
	box    geom.Box
}

func newMemory() *memory {
	return &memory{known: map[string]Finding{}, areas: map[string]areaOf{}, fresh: map[string]*gauge.Memory{}}
}

// turn begins another look.
func (m *memory) turn() { m.old, m.fresh = m.fresh, map[string]*gauge.Memory{} }

// within sets how far flattened outlines may be off.
func (m *memory) within(tol float64) {
	if m.tol != tol {
		m.tol, m.areas = tol, map[string]areaOf{}
	}
}

func (m *memory) measured(what string) *gauge.Memory {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.old[what]
}

func (m *memory) keep(what string, g *gauge.Memory) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.fresh[what] = g
}

// area returns the area of a shape that takes part, flattened within the tolerance of looking.
func (m *memory) area(w *Work, i int) (areaOf, error) {
	sh := &w.Sheet.Shapes[i]
	m.mu.Lock()
	was, have := m.areas[sh.Key]
	m.mu.Unlock()
	if have && sameArea(was.shape, sh) {
		return was, nil
	}
	r, err := w.regionWithin(i, nil, m.tol)
	if err != nil {
		return areaOf{}, err
	}
	is := areaOf{sh, r, w.boxOf(r)}
	m.mu.Lock()
	defer m.mu.Unlock()
	m.areas[sh.Key] = is
	return is, nil
}
