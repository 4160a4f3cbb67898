package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mend"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/write"
)

// listed is what --list prints of a finding.
type listed struct {
	File    string     `json:"file"`
	Kind    string     `json:"kind"`
	Shapes  []string   `json:"shapes"`
	AtMM    [2]float64 `json:"at_mm"` // on the page
	Measure string     `json:"measure"`
	Fix     string     `json:"fix"`

	// What the fix does to the picture.
	Class   string  `json:"class"` // tidy, heal or decide
	Effect  string  `json:"effect"`
	AreaMM2 float64 `json:"area_mm2"`        // that changes its colour
	Share   float64 `json:"share"`           // of what is covered
	WideMM  float64 `json:"wide_mm"`         // what changes is nowhere wider
	Copes   bool    `json:"copes,omitempty"` // raising does the same by itself
	More    int     `json:"more,omitempty"`  // of the kind, beyond those that are listed
}

// mending is how mend was called.
type mending struct {
	how    *reading
	to     *outputs
	fixes  string
	list   bool
	recipe recipe.Recipe
}

// mendCommand lists or takes the findings of files and writes what they come to.
func mendCommand() *cobra.Command {
	m := &mending{recipe: recipe.New()}
	var kinds []string
	for _, k := range mend.Kinds {
		kinds = append(kinds, k.Name)
	}
	c := command("mend FILE... (-o OUT.svg | -d DIR | --list)", "Lists the findings of files, or takes their fixes",
		"Findings are "+strings.Join(kinds, ", ")+".", someFiles, m.run)
	m.how, m.to = readFlags(c), outFlags(c)
	c.Flags().StringVar(&m.fixes, "fix", "all", "Which are taken: all, classes (tidy, heal, decide) or `KIND,...`")
	c.Flags().BoolVar(&m.list, "list", false, "Lists them as JSON, one object a line, and writes nothing.")
	sizeFlags(c, &m.recipe)
	return c
}

func (m *mending) run(c *cobra.Command, files []string) error {
	if err := oneOf(c.Flags(), "width height", "list fix", "list out", "list dir"); err != nil {
		return err
	}
	choose, err := choiceOf(m.fixes)
	if err != nil {
		return wrong("%v", err)
	}
	if err := m.recipe.Check(); err != nil {
		return wrong("%v", err)
	}
	var targets []string
	if !m.list {
		if err := m.to.check("mend", len(files)); err != nil {
			return err
		}
		if targets, err = m.to.targets(files, "svg"); err != nil {
			return wrong("%v", err)
		}
	}
	if err := m.how.open(); err != nil {
		return err
	}
	return each(c, files, func(ctx context.Context, j job) error {
		s, err := m.how.load(ctx, j.path)
		if err != nil {
			return err
		}
		own := m.recipe.Clone()
		if m.list {
			return listFindings(ctx, j, s, &own)
		}
		return mendOne(ctx, j, s, &own, choose, targets[j.n])
	})
}

// choiceOf reads which findings are taken: "all" are those of which none is a guess; or classes, or kinds, whose
// proposals are taken whatever they change.
func choiceOf(list string) (c mend.Choice, err error) {
	if list == "all" || list == "" {
		return c, nil
	}
	var names []string
	for _, k := range mend.Kinds {
		names = append(names, k.Name)
	}
	for _, k := range strings.Split(list, ",") {
		if slices.Contains(mend.Classes, k) {
			c.Classes = append(c.Classes, k)
			continue
		}
		if _, ok := mend.KindOf(k); !ok {
			return c, fmt.Errorf("there is no finding %q; there are %s, and %s", k, strings.Join(names, ", "), strings.Join(mend.Classes, ", "))
		}
		c.Kinds = append(c.Kinds, k)
	}
	if len(c.Kinds) > 0 && len(c.Classes) > 0 {
		return c, fmt.Errorf("%q names kinds of findings and what they do; give the one or the other", list)
	}
	if len(c.Classes) == 0 {
		c.Classes = mend.Classes
	}
	return c, nil
}

// findings looks for what there is to mend on a sheet.
func findings(ctx context.Context, s *artwork.Sheet, r *recipe.Recipe) ([]mend.Finding, error) {
	line := &stages.Line{Keep: gate(), Recipe: r}
	m, err := line.MendedOf(ctx, stages.Made[*stages.Joined]{Value: &stages.Joined{Sheet: s}})
	if err != nil {
		return nil, err
	}
	made, err := line.Findings(ctx, m)
	return made.Value, err
}

func listFindings(ctx context.Context, j job, s *artwork.Sheet, r *recipe.Recipe) error {
	found, err := findings(ctx, s, r)
	if err != nil {
		return fmt.Errorf("%s: %w", j.path, err)
	}
	out := json.NewEncoder(j.stdout)
	for _, f := range found {
		at := f.At.Mul(artwork.MMPerPx)
		one := listed{
			File: j.path, Kind: f.Kind, Shapes: f.Shapes, AtMM: [2]float64{round4(at.X), round4(at.Y)},
			Measure: f.Measure, Fix: f.Fixes[0].Will, Class: f.Class, Effect: f.Effect.Words(),
			AreaMM2: round4(f.Effect.Area), Share: round4(f.Effect.Share), WideMM: f.Effect.Wide, Copes: f.Copes, More: f.More,
		}
		if f.Fails != "" {
			one.Effect = f.Fails
		}
		err := out.Encode(one)
		if err != nil {
			return err
		}
	}
	return nil
}

// mendOne takes findings of a sheet and writes the mended outlines.
func mendOne(ctx context.Context, j job, s *artwork.Sheet, r *recipe.Recipe, choose mend.Choice, target string) error {
	line := &stages.Line{Keep: gate(), Recipe: r}
	taken, err := line.TakeAll(ctx, stages.Made[*stages.Joined]{Value: &stages.Joined{Sheet: s}}, choose)
	if err != nil {
		return fmt.Errorf("%s: %w", j.path, err)
	}
	sayLeft(j, taken.Left)
	w := taken.Work
	tol := w.Grid * (1 << 23) / 10_000
	return create(
		func(to []io.Writer) error {
			return write.CurvesSVG(ctx, to[0], withUnits(w.Sheet), func(i int) bool { return w.In[i] }, tol)
		},
		target,
	)
}

// sayLeft says what was not taken, a line for all of a kind that are left for the same reason.
func sayLeft(j job, left []mend.Finding) {
	type group struct{ kind, why string }
	var order []group
	count := map[group]int{}
	for _, f := range left {
		if f.Copes {
			continue // nothing has to be done
		}
		g := group{f.Kind, "its fix does not put it right, or would change more of the picture than was said"}
		if f.Class == mend.Decide {
			g.why = "to decide: " + f.Effect.Words()
			if f.Together > 0 {
				g.why = fmt.Sprintf("to decide: together they change %.1f %% of the picture", 100*f.Together)
			}
		}
		if count[g] == 0 {
			order = append(order, g)
		}
		count[g]++
	}
	for _, g := range order {
		fmt.Fprintf(j.stderr, "bildhauer: %s: left as it is: %d × %s, %s\n", j.path, count[g], g.kind, g.why)
	}
}

// withUnits returns a sheet that can be written: one that was joined has its own
// page in px.
func withUnits(s *artwork.Sheet) *artwork.Sheet {
	if s.SourceUnits != (geom.Matrix{}) {
		return s
	}
	out := *s
	out.SourceUnits = geom.Identity
	return &out
}
