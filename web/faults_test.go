package web

import (
	"testing"

	"bildhauer/core/mesh"
)

// TestFaultsAreWorded words what a check found; a side that is open on purpose is no fault.
func TestFaultsAreWorded(t *testing.T) {
	for want, r := range map[string]mesh.Report{
		"":                                {Triangles: 4, VolumeMM3: 1, Crossing: 0},
		"3 open edges":                    {Triangles: 4, Boundary: 3},
		"1 edge with more than two faces": {Triangles: 4, Crowded: 1, Boundary: 8, Open: true},
		"2 edges turned over, 1 crossing of faces": {Triangles: 4, Misoriented: 2, Crossing: 1},
	} {
		if got := faults(r); got != want {
			t.Errorf("%+v: %q, want %q", r, got, want)
		}
	}
	open := mesh.Report{Triangles: 4, Boundary: 3, Open: true, Crossing: -1}
	if faults(open) != "" || !open.Sound() || open.Watertight() {
		t.Errorf("open on purpose: %q, sound %v", faults(open), open.Sound())
	}
}
