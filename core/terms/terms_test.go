package terms

import (
	"reflect"
	"slices"
	"strings"
	"testing"
)

// TestFiguresHold looks at each figure: its name is its own, what is usual and where its slider ends lie
// within its limits, and just these are taken.
func TestFiguresHold(t *testing.T) {
	names, flags := map[string]bool{}, map[string]string{}
	for _, f := range Figures() {
		if f.Name == "" || names[f.Name] {
			t.Errorf("the name %q is missing or taken twice", f.Name)
		}
		names[f.Name] = true
		if f.Flag != "" && flags[f.Flag] != "" {
			t.Errorf("%s and %s share the flag %s", f.Name, flags[f.Flag], f.Flag)
		}
		flags[f.Flag] = f.Name
		if f.Flag != "" && f.Help == "" {
			t.Errorf("the flag of %s has no help", f.Name)
		}
		if f.Min >= f.Max || f.Label != "" && f.Step <= 0 {
			t.Errorf("%s: from %v to %v by %v", f.Name, f.Min, f.Max, f.Step)
		}
		for _, v := range []float64{f.Low, f.High} {
			if f.High > f.Low && f.Check(v) != nil {
				t.Errorf("%s: the slider goes to %v", f.Name, v)
			}
		}
		if f.Usual != 0 && f.Check(f.Usual) != nil || f.Zero != "" && f.Check(0) != nil {
			t.Errorf("%s: what is usual is refused", f.Name)
		}
		if (f.Scale == 0) != (f.Shown == "") {
			t.Errorf("%s: shown in %q by %v", f.Name, f.Shown, f.Scale)
		}
		if f.Check(f.Min) != nil || f.Check(f.Max) != nil || f.Check(f.Max*1.01+1) == nil || f.Check(f.Min-1) == nil {
			t.Errorf("the bounds of %s", f.Name)
		}
	}
}

// TestChoicesHold looks at each choice: names and labels are told apart, and each option is found by what
// the command line calls it.
func TestChoicesHold(t *testing.T) {
	seen := map[string]bool{}
	for _, c := range Choices() {
		if c.Name == "" || seen[c.Name] || c.What == "" || len(c.Options) < 2 {
			t.Errorf("the choice %+v", c)
		}
		seen[c.Name] = true
		var names, labels []string
		for _, o := range c.Options {
			names, labels = append(names, o.Name), append(labels, o.Label)
			if got, ok := c.Find(o.Said()); o.Said() != "" && (!ok || got.Name != o.Name) {
				t.Errorf("%s: %q is not found", c.Name, o.Said())
			}
			if c.Flag != "" && o.Said() == "" && c.Name != "trace.by" {
				t.Errorf("%s: the command line can't say %q", c.Name, o.Label)
			}
			if c.Check(o.Name) != nil {
				t.Errorf("%s refuses %q", c.Name, o.Name)
			}
		}
		for _, list := range [][]string{names, labels} {
			slices.Sort(list)
			if len(slices.Compact(list)) != len(c.Options) || slices.Contains(labels, "") {
				t.Errorf("%s: %v", c.Name, list)
			}
		}
		if err := c.Check("no such thing"); err == nil || !strings.Contains(err.Error(), c.List()) {
			t.Errorf("%s: %v", c.Name, err)
		}
	}
	for i, f := range Finenesses {
		if Pick("fineness").Options[i].Name != f.Name {
			t.Errorf("fineness %d", i)
		}
	}
}

// TestTagsAreChecked goes through what tags can say.
func TestTagsAreChecked(t *testing.T) {
	type inner struct {
		Unit float64 `figure:"rough"`
	}
	type outer struct {
		Depth  float64    `figure:"depth"`
		Maybe  float64    `figure:"index,zero"`
		Copies int        `figure:"print.copies"`
		Places [2]float64 `figure:"place"`
		Caps   string     `choice:"caps"`
		Lamp   string     `choice:"lamp,zero"`
		Points []int      `count:"points"`
		In     inner      `within:""`
		Other  float64
	}
	good := outer{Depth: 8, Copies: 1, Points: []int{1, 2}, Other: -1e9}
	if err := CheckTags(&good); err != nil {
		t.Fatal(err)
	}
	for what, spoil := range map[string]func(o *outer){
		"The depth":                      func(o *outer) { o.Depth = 0 },
		"The index of refraction":        func(o *outer) { o.Maybe = 0.5 },
		"The number of copies":           func(o *outer) { o.Copies = 0 },
		"The place in the scene":         func(o *outer) { o.Places[1] = 1e9 },
		"The caps":                       func(o *outer) { o.Caps = "star" },
		"A lamp":                         func(o *outer) { o.Lamp = "moon" },
		"The number of points of a path": func(o *outer) { o.Points = nil },
		"The roughness":                  func(o *outer) { o.In.Unit = 2 },
	} {
		bad := good
		spoil(&bad)
		if err := CheckTags(&bad); err == nil || !strings.HasPrefix(err.Error(), what) {
			t.Errorf("%s: %v", what, err)
		}
	}
	var filled outer
	Fill(&filled)
	if want := (outer{Depth: 8, Maybe: 1.5, Copies: 1, Lamp: "panel"}); !reflect.DeepEqual(filled, want) {
		t.Errorf("filled: %+v", filled)
	}
}

// TestProfilesAreWhole follows each profile's pieces: they lead inward and end at the face.
func TestProfilesAreWhole(t *testing.T) {
	for _, p := range Profiles {
		at := 0.0
		for _, l := range p.Lines {
			if l.T < at || l.T > 1 || l.F < 0 || l.F > 1 || !slices.Contains([]string{"line", "round", "cove", "stairs"}, l.Form) {
				t.Errorf("%s: a piece %+v after %v", p.Name, l, at)
			}
			at = l.T
		}
		if n := len(p.Lines); !p.Drawn && (n == 0 || p.Lines[n-1].T != 1 || p.Lines[n-1].F != 1) {
			t.Errorf("%s does not end at the face", p.Name)
		}
	}
}
