package web

import (
	"encoding/binary"
	"encoding/json"
	"math"
	"strings"
	"testing"

	"bildhauer/core/mesh"
)

// unpacked takes an answer of data/solid apart.
type unpacked struct {
	solidHead
	pos   [][3]float32
	idx   []uint32
	edges [][2]uint32
}

func unpack(t *testing.T, raw []byte) (u unpacked) {
	t.Helper()
	n := int(binary.LittleEndian.Uint32(raw))
	if err := json.Unmarshal(raw[4:4+n], &u.solidHead); err != nil {
		t.Fatal(err)
	}
	at := 4 + n
	next := func() uint32 {
		v := binary.LittleEndian.Uint32(raw[at:])
		at += 4
		return v
	}
	for range u.Corners {
		u.pos = append(u.pos, [3]float32{math.Float32frombits(next()), math.Float32frombits(next()), math.Float32frombits(next())})
	}
	at += 8 * u.Corners // normals
	for range 3 * u.Triangles {
		u.idx = append(u.idx, next())
	}
	for range u.Edges {
		u.edges = append(u.edges, [2]uint32{next(), next()})
	}
	if at != len(raw) {
		t.Errorf("%d bytes of %d were read", at, len(raw))
	}
	return u
}

// TestSolidsForThePage asks for the bodies of the clock: triangles lie in runs by part and
// face, details in those of their host, the edges are those of its polygons, and measures
// that are tried change nothing that is kept.
func TestSolidsForThePage(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Tide clock")
	c := s.client()
	before := s.document(id)
	const face, sea, marks = "cf3ead8", "c2f737e", "c2b2f38"
	ask := func(body string) unpacked {
		t.Helper()
		code, text := c.post("/pieces/"+id+"/data/solid", body)
		if code != 200 {
			t.Fatalf("%s: %d %s", body, code, text)
		}
		return unpack(t, []byte(text))
	}
	whole := ask(`{"part":"` + face + `"}`)
	at := 0
	seen := map[string]int{}
	for _, r := range whole.Runs {
		if r.Start != at || r.Count <= 0 {
			t.Errorf("a run begins at %d, want %d", r.Start, at)
		}
		at += r.Count
		seen[r.Part] += r.Count
		if !strings.Contains(strings.Join(mesh.Groups[:], " "), r.Face) {
			t.Errorf("a face is called %q", r.Face)
		}
	}
	if at != whole.Triangles || len(seen) != 3 || seen[sea] == 0 || seen[marks] == 0 {
		t.Errorf("%d of %d triangles in runs, parts %v", at, whole.Triangles, seen)
	}
	// Each polygon edge joins two corners of a triangle.
	if 2*whole.Edges < whole.Triangles || whole.Edges > 3*whole.Triangles/2 {
		t.Errorf("%d edges for %d triangles", whole.Edges, whole.Triangles)
	}
	for _, e := range whole.edges {
		if int(e[0]) >= whole.Corners || int(e[1]) >= whole.Corners || whole.pos[e[0]] == whole.pos[e[1]] {
			t.Fatalf("an edge from %d to %d of %d corners", e[0], e[1], whole.Corners)
		}
	}
	if of := ask(`{"part":"` + sea + `"}`); of.Part != face || of.Key != whole.Key {
		t.Errorf("the sea is in the solid of %s", of.Part)
	}
	deeper := ask(`{"part":"` + face + `","try":{"` + sea + `":{"depth":30}}}`)
	if len(deeper.Limits) != 1 || deeper.Limits[0] != "a recess goes through" || deeper.Key == whole.Key {
		t.Errorf("a deep sea: %v", deeper.Limits)
	}
	walled := ask(`{"part":"` + face + `","try":{"` + sea + `":{"wall":1}}}`)
	if len(walled.Limits) != 1 || walled.Limits[0] != "Sea: on a recess the wall changes nothing" {
		t.Errorf("a sea with a wall: %q", walled.Limits)
	}
	open := ask(`{"part":"` + face + `","try":{"` + face + `":{"openBack":true}}}`)
	if !open.Open || open.Sound {
		t.Errorf("open behind: %+v", open.solidHead)
	}
	if s.document(id) != before {
		t.Error("what was tried was kept")
	}
}
