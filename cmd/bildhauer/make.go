package main

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"bildhauer/core/terms"

	"github.com/spf13/cobra"

	"bildhauer/core/artwork"
	"bildhauer/core/mend"
	"bildhauer/core/mesh"
	"bildhauer/core/parallel"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/units"
	"bildhauer/core/write"
)

// stats is what make prints of a file.
type stats struct {
	File       string     `json:"file"`
	Out        string     `json:"out"`
	ReadMS     float64    `json:"read_ms"`
	BuildMS    float64    `json:"build_ms"`
	CheckMS    float64    `json:"check_ms"`
	WriteMS    float64    `json:"write_ms"`
	Segments   int        `json:"outline_segments"`
	Vertices   int        `json:"vertices"`
	Triangles  int        `json:"triangles"`
	Parts      int        `json:"parts"`
	Levels     int        `json:"levels,omitempty"`  // of a relief
	Colours    *colours   `json:"colours,omitempty"` // where they were gathered
	Watertight bool       `json:"watertight"`
	Crossings  int        `json:"crossings"`
	VolumeMM3  float64    `json:"volume_mm3"`
	SizeMM     [3]float64 `json:"size_mm"`
	BevelMM    float64    `json:"bevel_height_mm"` // the lowest that a part got
}

// colours is what became of the shades of the artwork.
type colours struct {
	From int     `json:"from"`
	To   int     `json:"to"`
	Mean float64 `json:"mean_difference"` // over what is seen, hundredths of OKLab
	Most float64 `json:"most_difference"`
}

// making is how make was called.
type making struct {
	read   *reading
	recipe recipe.Recipe
	format string
	stats  bool
	mend   bool
	tube   bool
	choose mend.Choice // of findings to take
	target []string

	file, palette, fixes string // of a recipe, of colours, which findings to take
	changes              []change
}

// makeCommand raises files.
func makeCommand() *cobra.Command {
	m := &making{}
	var to *outputs
	c := command("make FILE... (-o OUT.stl | -d DIR --format stl)", "Raises files to solids",
		"Formats are "+terms.Pick("format").List()+"; that of -o goes by its ending.", someFiles,
		func(c *cobra.Command, files []string) error { return m.run(c, files, to) })
	m.read, to = readFlags(c), outFlags(c)
	choiceFlag(c, "format", func(name string) { m.format = name })
	c.Flags().BoolVar(&m.stats, "stats", false, "Prints what was made as JSON, one object a line.")
	m.decisions(c)
	return c
}

func (m *making) run(c *cobra.Command, files []string, to *outputs) error {
	if err := to.check("make", len(files)); err != nil {
		return err
	}
	if err := m.chooseFormat(to); err != nil {
		return wrong("%v", err)
	}
	if err := m.decide(c); err != nil {
		return err
	}
	var err error
	if m.target, err = to.targets(files, m.format); err != nil {
		return wrong("%v", err)
	}
	if err := m.read.open(); err != nil {
		return err
	}
	return each(c, files, m.one)
}

// chooseFormat takes the format from the ending of the result unless it is given; where both are, they agree.
func (m *making) chooseFormat(to *outputs) error {
	ending := to.ending()
	known := slices.Contains(write.Formats, ending)
	if m.format != "" && known && ending != m.format {
		return fmt.Errorf("-o %s is to be %s by its ending, and %s by --format; give one of them", to.out, ending, m.format)
	}
	if m.format == "" && to.out != "" {
		if !known {
			return fmt.Errorf("the format %q is not known; there are %s", ending, strings.Join(write.Formats, ", "))
		}
		m.format = ending
	}
	m.format = cmp.Or(m.format, "stl")
	if m.format == "obj" && to.out != "" && materials(to.out) == to.out {
		return fmt.Errorf("%s is where the materials of an OBJ file go; give -o another ending", to.out)
	}
	return nil
}

// materials returns where the materials of an OBJ file go.
func materials(obj string) string { return strings.TrimSuffix(obj, filepath.Ext(obj)) + ".mtl" }

// openRecipe reads a recipe file, "" for the usual one.
func openRecipe(path string) (recipe.Recipe, error) {
	if path == "" {
		return recipe.New(), nil
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return recipe.Recipe{}, fmt.Errorf("%s can't be read: %v", path, unwrapPath(err))
	}
	r, err := recipe.Parse(data)
	if err != nil {
		err = fmt.Errorf("%s: %w", path, err)
	}
	return r, err
}

// openPalette reads the colours that shades are gathered to.
func openPalette(path string, p *recipe.Palette) error {
	data, err := os.ReadFile(path)
	if err != nil {
		return fmt.Errorf("%s can't be read: %v", path, unwrapPath(err))
	}
	if p.Given, err = recipe.ReadColours(data); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	return nil
}

func ms(since time.Time) float64 { return float64(time.Since(since).Microseconds()) / 1000 }

// one carries one file from artwork to mesh. A solid that is not sound is not
// written.
func (m *making) one(ctx context.Context, j job) error {
	st := &stats{File: j.path, Out: m.target[j.n], Watertight: true}
	t := time.Now()
	sheet, err := m.read.load(ctx, j.path)
	if err != nil {
		return err
	}
	st.ReadMS = ms(t)
	t = time.Now()
	parts, err := m.build(ctx, sheet, st, j)
	if err != nil {
		return fmt.Errorf("%s: %w", j.path, err)
	}
	st.BuildMS = ms(t)
	t = time.Now()
	unsound := st.check(parts)
	st.CheckMS = ms(t)
	if len(unsound) > 0 {
		return fmt.Errorf(
			"%s: not written, for it is not sound: %s. Please keep the file and tell us about it",
			j.path,
			strings.Join(unsound, ", "),
		)
	}
	t = time.Now()
	var film *write.Film
	standing := write.Standing(m.format)
	if standing {
		film = stages.FilmOf(&m.recipe.Scene, parts, &m.recipe.Size)
	}
	if err := m.write(st.Out, stages.Place(parts, &m.recipe.Size, standing), film); err != nil {
		return err
	}
	st.WriteMS = ms(t)
	if m.stats {
		return json.NewEncoder(j.stdout).Encode(st)
	}
	return nil
}

// regions resolves the outlines of a sheet, mended as was asked for, and tells st what became of its colours.
func (m *making) regions(ctx context.Context, sheet *artwork.Sheet, st *stats) (*stages.Line, *stages.Regions, error) {
	r := m.recipe.Clone()
	line := &stages.Line{Keep: &stages.Recall{Keeper: gate()}, Recipe: &r}
	joined := stages.Made[*stages.Joined]{Value: &stages.Joined{Sheet: sheet}}
	if m.mend {
		if _, err := line.TakeAll(ctx, joined, m.choose); err != nil {
			return nil, nil, err
		}
	}
	mended, err := line.MendedOf(ctx, joined)
	if err != nil {
		return nil, nil, err
	}
	if st != nil && r.Parts.Palette.On() {
		got, err := line.Gathered(ctx, mended)
		if err != nil {
			return nil, nil, err
		}
		g := got.Value
		st.Colours = &colours{len(g.Shades), len(g.Colors), units.Round(100*g.Mean, 2), units.Round(100*g.Most, 2)}
	}
	made, err := line.RegionsOfMended(ctx, mended)
	if err != nil {
		return nil, nil, err
	}
	if m.tube {
		if made, err = asTubes(ctx, line, joined, made.Value); err != nil {
			return nil, nil, err
		}
	}
	return line, made.Value, nil
}

// build raises all parts of a sheet.
func (m *making) build(ctx context.Context, sheet *artwork.Sheet, st *stats, j job) ([]write.Part, error) {
	line, regions, err := m.regions(ctx, sheet, st)
	if err != nil {
		return nil, err
	}
	r := line.Recipe
	b := &building{line: line, regions: regions, names: stages.Names(r, regions), look: finishFor(m.format), st: st}
	b.list = stages.Arrangement(b.regions, &r.Parts)
	st.SizeMM[0], st.SizeMM[1] = round4(b.regions.Width), round4(b.regions.Height)
	if len(b.list) == 0 {
		return nil, fmt.Errorf("every part is excluded by the recipe")
	}
	st.Parts = len(b.list)
	_, st.Levels = stages.Levels(b.regions, &r.Parts)
	if text := stages.ReliefTrouble(b.regions, r); text != "" {
		fmt.Fprintf(j.stderr, "bildhauer: %s: the relief: %s\n", j.path, text)
	}
	for i := range b.list {
		for _, k := range append([]int{b.list[i].Index}, b.list[i].Details...) {
			st.Segments += b.regions.Parts[k].Region.Value.Edges()
		}
	}
	if r.Parts.Together(m.format) {
		return b.together(ctx, j)
	}
	return b.apart(ctx, j)
}

// asTubes makes a tube of every part that is to be a body.
func asTubes(
	ctx context.Context,
	line *stages.Line,
	joined stages.Made[*stages.Joined],
	r *stages.Regions,
) (stages.Made[*stages.Regions], error) {
	edit := &recipe.EditParts{Parts: map[string]recipe.PartPatch{}}
	for i := range r.Parts {
		if id := r.Parts[i].ID; line.Recipe.Parts.RoleOf(id).Kind == recipe.Body {
			edit.Parts[id] = recipe.PartPatch{Role: &recipe.Role{Kind: recipe.AsTube}}
		}
	}
	next, err := recipe.Change{Edits: []recipe.Edit{edit}}.Apply(*line.Recipe, nil)
	if err != nil {
		return stages.Made[*stages.Regions]{}, err
	}
	*line.Recipe = next
	return line.RegionsOf(ctx, joined)
}

// finishFor returns what a format carries.
func finishFor(format string) raise.Finish {
	if format == "stl" {
		return raise.Plain
	}
	return raise.Unrolled
}

// building is the raising of the parts of one sheet.
type building struct {
	line    *stages.Line
	regions *stages.Regions
	list    []stages.Raised
	names   []string
	look    raise.Finish
	st      *stats
}

// paints returns the materials of a body and its details.
func (b *building) paints(one *stages.Raised) []write.Paint {
	var out []write.Paint
	for _, i := range append([]int{one.Index}, one.Details...) {
		o := &b.regions.Parts[i]
		out = append(out, write.Paint{Name: b.names[i], Color: o.Color, Looks: stages.Looks(&b.line.Recipe.Scene, o)})
	}
	return out
}

// together raises all parts as one body.
func (b *building) together(ctx context.Context, j job) ([]write.Part, error) {
	made, err := b.line.Fused(ctx, b.regions, b.list, b.look)
	if err != nil {
		return nil, err
	}
	b.tell(j, made.Value.Bodies)
	first := &b.regions.Parts[b.list[0].Index]
	out := write.Part{Name: "piece", Color: first.Color, Mesh: made.Value.Mesh}
	for i := range b.list {
		out.Paints = append(out.Paints, b.paints(&b.list[i])...)
	}
	return []write.Part{out}, nil
}

// apart raises each body by itself.
func (b *building) apart(ctx context.Context, j job) ([]write.Part, error) {
	parts, got := make([]write.Part, len(b.list)), make([]stages.Got, len(b.list))
	err := parallel.Each(len(b.list), func(k int) error {
		one := &b.list[k]
		name := b.names[one.Index]
		solid, err := b.line.Body(ctx, b.regions, one, b.look)
		if err != nil {
			return fmt.Errorf("part %s: %w", name, err)
		}
		got[k] = solid.Value.Bodies[0]
		parts[k] = write.Part{
			Name: name, Color: b.regions.Parts[one.Index].Color, Mesh: solid.Value.Mesh, Paints: b.paints(one),
			Moves: b.regions.Parts[one.Index].ID,
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	b.tell(j, got)
	some := slices.DeleteFunc(parts, func(p write.Part) bool { return len(p.Mesh.Tris) == 0 })
	if len(some) == 0 {
		return nil, errors.New("nothing is left of any part: others cover it, or all is thinner than can be made")
	}
	return some, nil
}

// tell says what of the measures could not be.
func (b *building) tell(j job, got []stages.Got) {
	for k, s := range got {
		for _, text := range b.list[k].Words(s, &b.line.Recipe.Parts, b.regions, b.names) {
			fmt.Fprintf(j.stderr, "bildhauer: %s: %s: %s\n", j.path, b.names[b.list[k].Index], text)
		}
		if k == 0 || s.High < b.st.BevelMM {
			b.st.BevelMM = s.High
		}
	}
	b.st.BevelMM = round4(b.st.BevelMM)
}

// check examines all parts and returns the names of those that are not sound.
func (st *stats) check(parts []write.Part) []string {
	var unsound []string
	for _, part := range parts {
		rep := mesh.Check(part.Mesh, true)
		st.Vertices += rep.Vertices
		st.Triangles += rep.Triangles
		st.VolumeMM3 += rep.VolumeMM3
		st.Crossings += rep.Crossing
		st.Watertight = st.Watertight && rep.Watertight()
		if !rep.Sound() {
			unsound = append(unsound, part.Name)
		}
		lo, hi := part.Mesh.Box()
		st.SizeMM[2] = max(st.SizeMM[2], round4(hi[2]-lo[2]))
	}
	return unsound
}

// write writes the parts in the format.
func (m *making) write(out string, parts []write.Part, film *write.Film) error {
	if m.format == "obj" {
		mtl := materials(out)
		return create(
			func(w []io.Writer) error { return write.OBJ(w[0], w[1], filepath.Base(mtl), parts) },
			out,
			mtl,
		)
	}
	return create(func(w []io.Writer) error { return write.Solids(w[0], m.format, parts, film) }, out)
}
