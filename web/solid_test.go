package web

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"
	"reflect"
	"strings"
	"testing"

	"bildhauer/core/mesh"
	"bildhauer/core/recipe"
	"bildhauer/studio"
)

// unpacked takes a record of data/solids apart.
type unpacked struct {
	solidHead
	Error   string                `json:"error"`
	Checked map[string]solidCheck `json:"checked"`
	solidCheck
	pos   [][3]float64
	nrm   [][3]float64
	idx   []uint32
	edges [][2]uint32
}

// records takes an answer apart.
func records(t *testing.T, raw []byte) (out []unpacked) {
	t.Helper()
	for len(raw) > 0 {
		n := int(binary.LittleEndian.Uint32(raw))
		one := unpackOne(t, raw[4:4+n])
		raw = raw[4+n:]
		if one.Checked == nil {
			out = append(out, one)
			continue
		}
		for i := range out {
			out[i].solidCheck = one.Checked[out[i].Part]
		}
		if len(raw) > 0 || len(one.Checked) != len(out) {
			t.Errorf("%d of %d bodies were looked at, %d bytes follow", len(one.Checked), len(out), len(raw))
		}
	}
	return out
}

func unpack(t *testing.T, raw []byte) unpacked {
	t.Helper()
	list := records(t, raw)
	if len(list) != 1 {
		t.Fatalf("%d bodies", len(list))
	}
	return list[0]
}

func unpackOne(t *testing.T, raw []byte) (u unpacked) {
	t.Helper()
	n := int(binary.LittleEndian.Uint32(raw))
	if err := json.Unmarshal(raw[4:4+n], &u); err != nil {
		t.Fatal(err)
	}
	at := 4 + n
	half := func() uint16 {
		v := binary.LittleEndian.Uint16(raw[at:])
		at += 2
		return v
	}
	index := func() uint32 {
		if !u.Wide {
			return uint32(half())
		}
		v := binary.LittleEndian.Uint32(raw[at:])
		at += 4
		return v
	}
	fill := func() { at = (at + 3) / 4 * 4 }
	for range u.Corners {
		var p [3]float64
		for i := range p {
			p[i] = float64(u.BoxLow[i]) + float64(u.BoxSide[i])*float64(half())/65535
		}
		u.pos = append(u.pos, p)
	}
	fill()
	if u.Same {
		if at != len(raw) {
			t.Errorf("%d bytes of %d were read", at, len(raw))
		}
		return u
	}
	for range u.Corners {
		x, y := float64(int16(half()))/32767, float64(int16(half()))/32767
		z := 1 - math.Abs(x) - math.Abs(y)
		if z < 0 {
			x, y = math.Copysign(1-math.Abs(y), x), math.Copysign(1-math.Abs(x), y)
		}
		l := math.Sqrt(x*x + y*y + z*z)
		u.nrm = append(u.nrm, [3]float64{x / l, y / l, z / l})
	}
	for range 3 * u.Triangles {
		u.idx = append(u.idx, index())
	}
	fill()
	for range u.Edges {
		u.edges = append(u.edges, [2]uint32{index(), index()})
	}
	fill()
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
		code, text := c.post("/pieces/"+id+"/data/solids", body)
		if code != 200 {
			t.Fatalf("%s: %d %s", body, code, text)
		}
		return unpack(t, []byte(text))
	}
	whole := ask(`{"parts":["` + face + `"],"edges":true}`)
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
	if of := ask(`{"parts":["` + sea + `"]}`); of.Part != face || of.Key != whole.Key {
		t.Errorf("the sea is in the solid of %s", of.Part)
	}
	deeper := ask(`{"parts":["` + face + `"],"try":{"` + sea + `":{"depth":30}}}`)
	if len(deeper.Limits) != 1 || deeper.Limits[0] != "a recess goes through" || deeper.Key == whole.Key {
		t.Errorf("a deep sea: %v", deeper.Limits)
	}
	walled := ask(`{"parts":["` + face + `"],"try":{"` + sea + `":{"wall":1}}}`)
	if len(walled.Limits) != 1 || walled.Limits[0] != "Sea: on a recess the wall changes nothing" {
		t.Errorf("a sea with a wall: %q", walled.Limits)
	}
	if s.document(id) != before {
		t.Error("what was tried was kept")
	}
	yes := true
	s.change(id, "Open behind", &recipe.EditParts{Parts: map[string]recipe.PartPatch{face: {MeasuresPatch: recipe.MeasuresPatch{OpenBack: &yes}}}})
	if open := ask(`{"parts":["` + face + `"]}`); !open.Open || open.Sound {
		t.Errorf("open behind: %+v", open.solidHead)
	}
	// All at once: each body once, as exact as it is asked for alone, and those that are there are not sent
	// again.
	code, text := c.post("/pieces/"+id+"/data/solids", `{}`)
	all := records(t, []byte(text))
	if code != 200 || len(all) < 3 {
		t.Fatalf("all: %d, %d bodies", code, len(all))
	}
	have := map[string]string{}
	p, err := s.studio.Piece(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	for _, u := range all {
		if have[u.Part] != "" {
			t.Errorf("%s came twice", u.Part)
		}
		have[u.Part] = string(u.Key)
		s.asSent(t, p, u)
	}
	raw, _ := json.Marshal(map[string]any{"have": have})
	if _, text = c.post("/pieces/"+id+"/data/solids", string(raw)); text != "" {
		t.Errorf("what is there was sent again: %d bytes", len(text))
	}
	delete(have, face)
	raw, _ = json.Marshal(map[string]any{"have": have})
	if _, text = c.post("/pieces/"+id+"/data/solids", string(raw)); unpack(t, []byte(text)).Part != face {
		t.Error("not what is missing was sent")
	}
}

// TestFormsAreSentOnce changes figures of a body: where only heights change, the positions alone come, and
// together with what came before they are what comes to somebody who has nothing.
func TestFormsAreSentOnce(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Tide clock")
	c := s.client()
	const face = "cf3ead8"
	ask := func(try, form string) unpacked {
		t.Helper()
		body := fmt.Sprintf(`{"parts":[%q],"try":{%q:%s},"forms":{%q:%q}}`, face, face, try, face, form)
		code, text := c.post("/pieces/"+id+"/data/solids", body)
		if code != 200 {
			t.Fatalf("%s: %d %s", body, code, text)
		}
		return records(t, []byte(text))[0]
	}
	was := ask(`{}`, "")
	for _, try := range []string{`{"depth":9.5}`, `{"offset":3}`, `{"front":{"width":0.7}}`, `{"front":{"segments":7}}`} {
		whole, sent := ask(try, ""), ask(try, was.Form)
		if heights := !strings.Contains(try, "front"); sent.Same != heights {
			t.Errorf("%s: sent as the same form: %v", try, sent.Same)
		}
		if sent.Same {
			sent.nrm, sent.idx = was.nrm, was.idx
		}
		if !reflect.DeepEqual(whole.pos, sent.pos) || !reflect.DeepEqual(whole.nrm, sent.nrm) || !reflect.DeepEqual(whole.idx, sent.idx) {
			t.Errorf("%s: the body is another one with the form of before", try)
		}
		if reflect.DeepEqual(whole.pos, was.pos) && reflect.DeepEqual(whole.BoxSide, was.BoxSide) && whole.BoxLow == was.BoxLow {
			t.Errorf("%s changes nothing", try)
		}
	}
}

// asSent compares a body that was sent with the one that was made: corner by corner within a 16-bit share
// of its box, normals within a twentieth of a degree, owners and faces by their runs.
func (s *site) asSent(t *testing.T, p studio.Piece, u unpacked) {
	t.Helper()
	var solid *studio.Solid
	err := s.studio.Stream(t.Context(), p, studio.Wanted{Parts: []string{u.Part}}, func(x *studio.Solid) error {
		solid = x
		return nil
	}, func(_ string, err error) error { return err })
	if err != nil {
		t.Fatal(err)
	}
	m := solid.Mesh
	type face struct {
		owner, group string
		at           [3]float64
	}
	// Triangles by the middle of their corners, rounded far beyond what 16 bits may move.
	unit := 1e-4 * math.Max(1, math.Max(float64(u.BoxSide[0]), float64(u.BoxSide[1])))
	middle := func(a, b, c [3]float64) (out [3]float64) {
		for i := range out {
			out[i] = math.Round((a[i] + b[i] + c[i]) / 3 / unit)
		}
		return out
	}
	made, sent := map[face]bool{}, map[face]bool{}
	corner := func(v int32) [3]float64 {
		q := m.Pos(v)
		return [3]float64{float64(q[0]), float64(q[1]), float64(q[2])}
	}
	for k, tri := range m.Tris {
		owner := 0
		if m.Part != nil {
			owner = int(m.Part[k])
		}
		made[face{solid.Owners[owner].ID, mesh.Groups[m.Group[k]], middle(corner(tri[0]), corner(tri[1]), corner(tri[2]))}] = true
	}
	for _, r := range u.Runs {
		for k := r.Start; k < r.Start+r.Count; k++ {
			sent[face{r.Part, r.Face, middle(u.pos[u.idx[3*k]], u.pos[u.idx[3*k+1]], u.pos[u.idx[3*k+2]])}] = true
			if n := u.nrm[u.idx[3*k]]; r.Face == "back" && n[2] > -0.999 {
				t.Errorf("%s: a normal of the back is %v", u.Part, n)
			}
		}
	}
	missing := 0
	for _, both := range [][2]map[face]bool{{made, sent}, {sent, made}} {
		for f := range both[0] {
			found := false
			for d := range 27 { // the rounding may fall either way
				near := f
				near.at = [3]float64{f.at[0] + float64(d%3-1), f.at[1] + float64(d/3%3-1), f.at[2] + float64(d/9-1)}
				found = found || both[1][near]
			}
			if !found {
				missing++
			}
		}
	}
	if missing > 0 || len(m.Tris) != u.Triangles {
		t.Errorf("%s: %d of %d triangles are elsewhere than they were made", u.Part, missing, u.Triangles)
	}
}
