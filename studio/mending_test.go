package studio

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"bildhauer/core/mend"
	"bildhauer/core/recipe"
)

const faulty = `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100">` +
	`<path id="plate" fill="#336699" d="M0 0H90V49.8H110V0H200V100H110V50.2H90V100H0Z"/>` +
	`<circle id="one" cx="40" cy="40" r="12" fill="#a33333"/><circle id="two" cx="40" cy="40" r="12" fill="#a33333"/></svg>`

func mending(t *testing.T, s *Studio, id string) *Mending {
	t.Helper()
	m, err := s.Mending(t.Context(), piece(t, s, id))
	if err != nil {
		t.Fatal(err)
	}
	return m
}

func kindsOf(m *Mending) string {
	var out []string
	for i, f := range m.Findings {
		if m.Left[i] {
			out = append(out, f.Kind+" (left)")
		} else {
			out = append(out, f.Kind)
		}
	}
	return strings.Join(out, ", ")
}

func recipeOf(t *testing.T, s *Studio, id string) string {
	t.Helper()
	raw, err := json.Marshal(piece(t, s, id).Recipe)
	if err != nil {
		t.Fatal(err)
	}
	return string(raw)
}

// TestMending takes one finding, leaves one, takes all, and survives a restart.
func TestMending(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	id := made(t, s, File{Name: "plate.svg", Data: []byte(faulty)})
	m := mending(t, s, id)
	if got := kindsOf(m); got != "twice, thin" {
		t.Fatalf("findings: %s", got)
	}
	if len(m.Before.Loops) == 0 || m.Before.Pieces != 1 || m.Before.Nodes < 12 {
		t.Errorf("before %+v, after %+v", m.Before, m.After)
	}
	f := m.Findings[1]
	leave := recipe.Leave{Kind: f.Kind, Shapes: f.Shapes, At: [2]float64{f.At.X, f.At.Y}}
	change(t, s, id, "Leave", &recipe.LeaveFindings{List: []recipe.Leave{leave}})
	if n, err := s.OpenFindings(t.Context(), piece(t, s, id)); err != nil || n != 1 {
		t.Errorf("%d open, %v", n, err)
	}
	change(t, s, id, f.Fixes[0].Will, &recipe.AddMends{List: m.Findings[0].Fixes[0].Do})
	if got := kindsOf(mending(t, s, id)); got != "thin (left)" {
		t.Errorf("after one and a leave: %s", got)
	}
	s.Close()
	s = open(t, dir)
	if got := kindsOf(mending(t, s, id)); got != "thin (left)" {
		t.Errorf("after a restart: %s", got)
	}
	change(t, s, id, "Open again", &recipe.LeaveFindings{List: []recipe.Leave{leave}, Reopen: true})
	p, err := s.TakeAll(t.Context(), id, Latest, mend.Choice{Kinds: []string{"thin"}})
	if err != nil || p.Undo != "Take all: Thin spots" || len(p.Recipe.Mends.List) != 2 {
		t.Errorf("%q, %d mends, %v", p.Undo, len(p.Recipe.Mends.List), err)
	}
	if m := mending(t, s, id); len(m.Findings) != 0 || m.After.AreaMM2 <= m.Before.AreaMM2 {
		t.Errorf("after all: %s", kindsOf(m))
	}
	if _, err := s.TakeAll(t.Context(), id, Latest, mend.Choice{}); err == nil {
		t.Error("there was something to take")
	}
}

// TestMendsSurviveAnExchange exchanges the file: mends go with their shapes, and
// one whose shape is gone says so and does nothing else.
func TestMendsSurviveAnExchange(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{Name: "plate.svg", Data: []byte(faulty)})
	change(t, s, id, "Grow", &recipe.AddMends{List: []recipe.Mend{{Do: "grow", Shapes: []string{"plate"}, MM: []float64{1}}}})
	change(t, s, id, "Drop", &recipe.AddMends{List: []recipe.Mend{{Do: "drop", Shapes: []string{"two"}}}})
	fresh := strings.Replace(strings.Replace(faulty, `<circle id="two" cx="40" cy="40" r="12" fill="#a33333"/>`, "", 1), "M0 0H90", "M0 0H92", 1)
	x, err := s.Propose(t.Context(), id, 1, File{Name: "plate.svg", Data: []byte(fresh)})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Accept(t.Context(), id, Latest, 1, x.File); err != nil {
		t.Fatal(err)
	}
	m := mending(t, s, id)
	if st := m.Steps["m1"]; st == nil || st.Refused != "" {
		t.Errorf("the mend of a kept shape: %+v", st)
	}
	if st := m.Steps["m2"]; st == nil || !st.Lost || len(m.Work.Sheet.Shapes) != 2 {
		t.Errorf("the mend of a gone shape: %+v, %d shapes", st, len(m.Work.Sheet.Shapes))
	}
	if err := s.Undo(t.Context(), id, Latest); err != nil {
		t.Fatal(err)
	}
	if st := mending(t, s, id).Steps["m2"]; st == nil || st.Refused != "" {
		t.Errorf("with the old file back: %+v", st)
	}
}

// TestRandomHandWorkTakenBack does a random series of hand edits, some of which
// are refused, and takes all back: the document is as at first, byte for byte,
// and so is what it comes to.
func TestRandomHandWorkTakenBack(t *testing.T) {
	for seed := range uint64(3) {
		rnd := rand.New(rand.NewPCG(seed, 4))
		s := open(t, t.TempDir())
		id := made(t, s, File{Name: "plate.svg", Data: []byte(faulty)})
		before := recipeOf(t, s, id)
		first := fmt.Sprint(mending(t, s, id).After)
		done, refused := 0, 0
		for range 25 {
			m := mending(t, s, id)
			var keys []string
			for range 1 + rnd.IntN(2) {
				keys = append(keys, m.Work.Sheet.Shapes[rnd.IntN(len(m.Work.Sheet.Shapes))].Key)
			}
			deeds := []recipe.Mend{
				{Do: "grow", MM: []float64{rnd.Float64()*4 - 2}}, {Do: "unite"}, {Do: "subtract"}, {Do: "divide"}, {Do: "split"},
				{Do: "move", At: [][2]float64{{rnd.Float64() * 9, rnd.Float64() * 9}}}, {Do: "ring", MM: []float64{1 + rnd.Float64()}},
				{Do: "turn", Turn: 30, At: [][2]float64{{50, 50}}}, {Do: "hole"}, {Do: "compound"}, {Do: "drop"},
				{Do: "punch", MM: []float64{2}, At: [][2]float64{{rnd.Float64() * 200, 60}}}, {Do: "refit", MM: []float64{0.1}},
				{Do: "eyelet", MM: []float64{6, 3}, At: [][2]float64{{rnd.Float64() * 200, 5}}}, {Do: "border", MM: []float64{2}},
			}
			d := deeds[rnd.IntN(len(deeds))]
			d.Shapes = keys
			_, err := s.Change(t.Context(), id, Latest, recipe.Change{Label: d.Do, Edits: []recipe.Edit{&recipe.AddMends{List: []recipe.Mend{d}}}})
			if err != nil {
				refused++
				continue
			}
			done++
			if len(mending(t, s, id).Work.Sheet.Shapes) == 0 {
				break
			}
		}
		if done < 5 {
			t.Errorf("%d: only %d edits were kept, %d refused", seed, done, refused)
		}
		for range done {
			if err := s.Undo(t.Context(), id, Latest); err != nil {
				t.Fatal(err)
			}
		}
		if after := recipeOf(t, s, id); after != before {
			t.Errorf("%d: after undo\n%s\nbefore\n%s", seed, after, before)
		}
		if again := fmt.Sprint(mending(t, s, id).After); again != first {
			t.Errorf("%d: the outlines are others than before", seed)
		}
		s.Close()
	}
}

// TestExportsLieAsAsked downloads the same piece lying in two ways: other bytes,
// each kept by itself.
func TestExportsLieAsAsked(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{Name: "plate.svg", Data: []byte(faulty)})
	path := func() string {
		t.Helper()
		e, err := s.Export(t.Context(), piece(t, s, id), "stl", "plate")
		if err != nil {
			t.Fatal(err)
		}
		return e.Path
	}
	flat := path()
	up := recipe.Upright
	change(t, s, id, "How it lies", &recipe.SetSize{Lying: &up})
	if standing := path(); standing == flat {
		t.Error("the file of before was handed out")
	}
	frame := recipe.Frame{Name: "Bed", Width: 200, Height: 200, Margin: 5}
	change(t, s, id, "Frame", &recipe.SetSize{Frame: &frame}, &recipe.KeepFrame{Frame: frame})
	if p := piece(t, s, id); p.Recipe.Size.Frame == nil || len(p.Recipe.Size.Frames) != 1 {
		t.Errorf("frames %+v", p.Recipe.Size)
	}
}
