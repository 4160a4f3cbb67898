package recipe

import (
	"strings"
	"testing"
)

// TestDividedParts changes parts that a relief divided: what they are given stays theirs, the rest is that
// of the part they come from, and they can be joined by their shapes but have no role of their own.
func TestDividedParts(t *testing.T) {
	s := layered()
	high, base := DividedID("ca33333", 2, false), "ca33333"
	if BaseOf(high) != base || BaseOf(DividedID(base, 0, true)) != base || Divided(base) || BaseOf("s:a~b") != "s:a~b" || BaseOf("s:a~1") != "s:a~1" {
		t.Errorf("%s was divided from %s", high, BaseOf(high))
	}
	deep, level, name := 3.0, 4, "Upper rail"
	r := apply(t, New(), s, &EditParts{Parts: map[string]PartPatch{
		base: {MeasuresPatch: MeasuresPatch{Depth: &deep}}, high: {Level: &level, Name: &name},
	}})
	if m := r.Parts.Measures(high); m.Depth != deep || r.Parts.LevelOf(high) != level || r.Parts.LevelOf(base) != 0 {
		t.Errorf("%g mm deep, level %d", m.Depth, r.Parts.LevelOf(high))
	}
	out := true
	if q := apply(t, r, s, &EditParts{Parts: map[string]PartPatch{base: {Out: &out}}}); !q.Parts.IsOut(high) {
		t.Error("a part was left out, and what was divided from it stayed")
	}
	role := &EditParts{Parts: map[string]PartPatch{high: {Role: &Role{Kind: Backing}}}}
	if err := role.Apply(&r, s); err == nil || !strings.Contains(err.Error(), "Split its shapes off first") {
		t.Errorf("a role of its own: %v", err)
	}
	if err := (&JoinParts{IDs: []string{base, high}}).Apply(&r, s); err == nil {
		t.Error("joined without its shapes")
	}
	joined := apply(t, r, s, &JoinParts{IDs: []string{high, "c338855"}, Shapes: map[string][]string{high: {"main"}}})
	took := joined.Parts.Find("p1")
	if took == nil || took.Name != name || took.How == nil || took.How.Depth != deep || strings.Join(took.Takes.Shapes, "") != "main" {
		t.Errorf("joined: %+v", joined.Parts.List)
	}
	split := apply(t, r, s, &TakeShapes{From: high, Shapes: []string{"main"}})
	if q := split.Parts.Find("p1"); q == nil || q.How == nil || q.How.Depth != deep {
		t.Errorf("split off: %+v", split.Parts.List)
	}
	if !r.Parts.Splits(base) || joined.Parts.Splits("p1") || joined.Parts.Splits("s:x") {
		t.Error("not what takes colours alone is divided")
	}
}
