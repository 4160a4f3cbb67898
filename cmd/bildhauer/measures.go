package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"bildhauer/core/recipe"
	"bildhauer/core/terms"
	"bildhauer/core/units"
)

// change is what a flag does to a recipe. Changes are made in the order in which flags are declared here, however
// they are given.
type change struct {
	flag string
	do   func(r *recipe.Recipe)
}

// contradicting lists flags of which each says what the others say otherwise.
var contradicting = []string{
	"width height", "fuse apart", "pillow dome profile", "pillow dome bevel-height", "pillow bevel", "dome bevel", "relief relief-step",
	"colours colours-apart palette", "fineness tolerance",
}

// sizeFlags adds those of the size.
func sizeFlags(c *cobra.Command, r *recipe.Recipe) {
	lengthOf(c.Flags(), "width", func(mm float64) { r.Size.By, r.Size.MM = recipe.Width, mm })
	lengthOf(c.Flags(), "height", func(mm float64) { r.Size.By, r.Size.MM = recipe.Height, mm })
}

// decisions adds the flags of all that a recipe decides.
func (m *making) decisions(c *cobra.Command) {
	fs := c.Flags()
	fs.StringVar(&m.file, "recipe", "", "A recipe `FILE` to begin with; flags change it.")
	m.sizes(c)
	m.measures(c)
	m.bevels(c)
	m.together(c)
	m.meshes(c)
	fs.StringVar(&m.palette, "palette", "", "A `FILE` of colours to which shades are gathered.")
	fs.StringVar(&m.fixes, "mend", "", "Findings that are mended first: all, classes or `KIND,...`")
	fs.BoolVar(&m.tube, "tube", false, "Makes tubes of all parts.")
}

// length adds the flag of a figure that is a length.
func (m *making) length(c *cobra.Command, figure string, set func(r *recipe.Recipe, mm float64)) {
	lengthOf(c.Flags(), figure, func(mm float64) { m.later(terms.Of(figure).Flag, func(r *recipe.Recipe) { set(r, mm) }) })
	m.declare(terms.Of(figure).Flag)
}

// number adds the flag of a figure that is a number.
func (m *making) number(c *cobra.Command, figure string, set func(r *recipe.Recipe, v float64)) {
	numberOf(c.Flags(), figure, func(v float64) { m.later(terms.Of(figure).Flag, func(r *recipe.Recipe) { set(r, v) }) })
	m.declare(terms.Of(figure).Flag)
}

// word adds the flag of a choice.
func (m *making) word(c *cobra.Command, choice string, set func(r *recipe.Recipe, name string)) {
	choiceFlag(c, choice, func(name string) { m.later(terms.Pick(choice).Flag, func(r *recipe.Recipe) { set(r, name) }) })
	m.declare(terms.Pick(choice).Flag)
}

// on adds a flag without a value.
func (m *making) on(c *cobra.Command, flag, help string, set func(r *recipe.Recipe)) {
	c.Flags().BoolFunc(flag, help, func(string) error {
		m.later(flag, set)
		return nil
	})
	m.declare(flag)
}

func (m *making) declare(flag string) { m.changes = append(m.changes, change{flag: flag}) }

func (m *making) later(flag string, do func(r *recipe.Recipe)) {
	for i := range m.changes {
		if m.changes[i].flag == flag {
			m.changes[i].do = do
		}
	}
}

func (m *making) sizes(c *cobra.Command) {
	m.length(c, "width", func(r *recipe.Recipe, mm float64) { r.Size.By, r.Size.MM = recipe.Width, mm })
	m.length(c, "height", func(r *recipe.Recipe, mm float64) { r.Size.By, r.Size.MM = recipe.Height, mm })
	m.length(c, "tolerance", func(r *recipe.Recipe, mm float64) { r.Size.Tolerance = mm })
	fine := terms.Pick("fineness")
	c.Flags().Var(&value{kind: "choice or length", set: func(text string) error {
		mm, err := finenessOf(text)
		if err == nil {
			m.later(fine.Flag, func(r *recipe.Recipe) { r.Size.Tolerance = mm })
		}
		return err
	}}, fine.Flag, fine.Help+" One of: "+fine.List()+".")
	m.declare(fine.Flag)
	m.word(c, "overlap", func(r *recipe.Recipe, name string) { r.Size.Overlap = name })
}

// finenessOf reads a tolerance by its name or as a length, in mm.
func finenessOf(text string) (float64, error) {
	for _, f := range terms.Finenesses {
		if f.Name == text {
			return f.MM, nil
		}
	}
	mm, err := units.ParseLength(text, "mm")
	if err != nil {
		return 0, fmt.Errorf("the fineness is draft, good, fine or a length: %w", err)
	}
	return mm, nil
}

// how is what all parts are raised like.
func how(r *recipe.Recipe) *recipe.Measures { return &r.Parts.Default }

func (m *making) measures(c *cobra.Command) {
	m.length(c, "depth", func(r *recipe.Recipe, mm float64) { how(r).Depth = mm })
	m.word(c, "direction", func(r *recipe.Recipe, name string) { how(r).Direction = name })
	m.length(c, "offset", func(r *recipe.Recipe, mm float64) { how(r).Offset = mm })
	m.length(c, "wall", func(r *recipe.Recipe, mm float64) { how(r).Wall = mm })
	m.word(c, "open", func(r *recipe.Recipe, name string) {
		how(r).OpenFront, how(r).OpenBack = name != "back", name != "front"
	})
	m.length(c, "tube", func(r *recipe.Recipe, mm float64) { how(r).Tube.Width = mm })
	m.word(c, "tubeSection", func(r *recipe.Recipe, name string) { how(r).Tube.Own = name == "own" })
}

func (m *making) bevels(c *cobra.Command) {
	m.length(c, "bevelWidth", func(r *recipe.Recipe, mm float64) { how(r).Front.Width, how(r).Front.Height = mm, mm })
	m.length(c, "bevelHeight", func(r *recipe.Recipe, mm float64) { how(r).Front.Height = mm })
	m.word(c, "profile", func(r *recipe.Recipe, name string) { how(r).Front.Profile = name })
	for _, p := range terms.Profiles {
		if p.Full {
			m.full(c, p)
		}
	}
	m.number(c, "segments", func(r *recipe.Recipe, v float64) { how(r).Front.Segments = int(v) })
	m.on(c, "outward", "Bevels run outward, and the face keeps its size.", func(r *recipe.Recipe) { how(r).Outward = true })
	m.on(c, "mitred", "Bevels go round inner corners as two planes.", func(r *recipe.Recipe) { how(r).Mitred = true })
	m.word(c, "back", func(r *recipe.Recipe, name string) {
		if name == "flat" {
			how(r).Back.Width, how(r).Back.Height = 0, 0
		} else {
			how(r).Back = how(r).Front
		}
	})
}

// full adds the flag of a profile that is as wide as the part: its height is all there is to say.
func (m *making) full(c *cobra.Command, p terms.Profile) {
	c.Flags().Var(&value{kind: "length", set: func(text string) error {
		mm, err := units.ParseLength(text, "mm")
		if err == nil {
			m.later(p.Name, func(r *recipe.Recipe) { how(r).Front.Profile, how(r).Front.Height = p.Name, mm })
		}
		return err
	}}, p.Name, p.Help+" So high.")
	m.declare(p.Name)
}

func (m *making) together(c *cobra.Command) {
	m.word(c, "grouping", func(r *recipe.Recipe, name string) { r.Parts.By = name })
	m.length(c, "spread", func(r *recipe.Recipe, mm float64) { r.Parts.Spread = mm })
	m.length(c, "clearance", func(r *recipe.Recipe, mm float64) { r.Parts.Clearance = mm })
	m.on(c, "fuse", "Parts leave as one body.", func(r *recipe.Recipe) { r.Parts.Fused = recipe.Together })
	m.on(c, "apart", "Parts leave as bodies of their own.", func(r *recipe.Recipe) { r.Parts.Fused = recipe.Apart })
	m.length(c, "relief", func(r *recipe.Recipe, mm float64) { r.Parts.Relief.Total, r.Parts.Relief.Step = mm, 0 })
	m.length(c, "reliefStep", func(r *recipe.Recipe, mm float64) { r.Parts.Relief.Total, r.Parts.Relief.Step = 0, mm })
	m.word(c, "outlines", func(r *recipe.Recipe, name string) { r.Parts.Relief.Lines = name })
	m.number(c, "colours", func(r *recipe.Recipe, v float64) { r.Parts.Palette.Count, r.Parts.Palette.Distance = int(v), 0 })
	m.number(c, "shade", func(r *recipe.Recipe, v float64) { r.Parts.Palette.Count, r.Parts.Palette.Distance = 0, v })
}

func (m *making) meshes(c *cobra.Command) {
	m.word(c, "caps", func(r *recipe.Recipe, name string) { r.Parts.Mesh.Caps = name })
	m.length(c, "spacing", func(r *recipe.Recipe, mm float64) { r.Parts.Mesh.Spacing = mm })
	m.length(c, "simplify", func(r *recipe.Recipe, mm float64) { r.Parts.Mesh.Simplify = mm })
	m.number(c, "triangles", func(r *recipe.Recipe, v float64) { r.Parts.Mesh.Triangles = int(v) })
}

// decide works out the recipe once all flags are read.
func (m *making) decide(c *cobra.Command) error {
	if err := oneOf(c.Flags(), contradicting...); err != nil {
		return err
	}
	if err := m.fill(); err != nil {
		return wrong("%v", err)
	}
	return nil
}

func (m *making) fill() (err error) {
	if m.choose, err = choiceOf(m.fixes); err != nil {
		return err
	}
	m.mend = m.fixes != ""
	if m.recipe, err = openRecipe(m.file); err != nil {
		return err
	}
	m.tube = m.tube || m.recipe.Parts.AllTubes()
	for _, f := range m.changes {
		if f.do != nil {
			f.do(&m.recipe)
		}
	}
	if m.palette != "" {
		if err := openPalette(m.palette, &m.recipe.Parts.Palette); err != nil {
			return err
		}
	}
	return m.recipe.Check()
}
