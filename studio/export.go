package studio

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"os"
	"strings"

	"bildhauer/core/artwork"
	"bildhauer/core/print"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/units"
	"bildhauer/core/write"
)

// Kinds of file that leave, with their media types.
var kinds = map[string]string{
	"stl": "model/stl", "glb": "model/gltf-binary", "obj": "model/obj", "mtl": "model/mtl", "svg": "image/svg+xml",
	"3mf": "model/3mf", "ply": "application/octet-stream", "usda": "model/vnd.usda", "usdz": "model/vnd.usdz+zip", "dxf": "image/vnd.dxf",
	"gcode": "text/x-gcode",
}

// Export is a file that was written for a piece.
type Export struct {
	Path string // of its bytes
	Type string // media type
}

// result is an export that is kept.
type result struct{ path string }

// fileInput is what a mesh file depends on.
type fileInput struct {
	Format string
	Name   string      // of the files, without ending
	Pose   recipe.Size // how it lies; no more of it
	Parts  []filePart
	Scene  recipe.Scene // of a GLB
	Note   string       // of a 3MF
}

type filePart struct {
	Solid  stages.Made[*stages.Solid]
	Name   string
	Color  artwork.Color
	Paints []write.Paint
	Moves  string // see write.Part
}

// outlinesInput is what a file of outlines depends on.
type outlinesInput struct {
	Format  string
	Regions stages.Made[*stages.Regions]
	Parts   []outlinePart // those taken
}

type outlinePart struct {
	Index int
	Name  string
	Depth float64
}

// Export writes a piece in a format, under a name without ending. A part that
// fails its check is refused.
func (s *Studio) Export(ctx context.Context, p Piece, format, name string) (*Export, error) {
	kind, ok := kinds[format]
	if !ok {
		return nil, input("the format %.20q is not known", format)
	}
	var made stages.Made[*result]
	var err error
	switch format {
	case "svg", "dxf":
		made, err = s.exportOutlines(ctx, p, format)
	case "gcode":
		made, err = s.exportGCode(ctx, p)
	default:
		made, err = s.exportMeshes(ctx, p, format, name)
	}
	if err != nil {
		return nil, err
	}
	return &Export{made.Value.path, kind}, nil
}

// errNothing is for pieces of which no part has a surface.
var errNothing = input("nothing is left of any part: others cover it, or all is thinner than can be made")

func (s *Studio) exportMeshes(
	ctx context.Context,
	p Piece,
	format, name string,
) (stages.Made[*result], error) {
	size := p.Recipe.Size
	in := fileInput{Format: format, Name: name, Pose: recipe.Size{Origin: size.Origin, Lying: size.Lying, Up: size.Up}}
	var checked []Checked
	var err error
	together := p.Recipe.Parts.Together(format)
	if together {
		var one *Checked
		if one, err = s.Fused(ctx, p); err == nil {
			checked = []Checked{*one}
		}
	} else {
		checked, err = s.Checks(ctx, p)
	}
	if err != nil {
		return stages.Made[*result]{}, err
	}
	for _, c := range checked {
		if c.Report.Nothing() {
			continue
		}
		if !c.Report.Sound() {
			return stages.Made[*result]{}, input(
				"%s is not sound, see the checks. Narrow its bevel or raise the tolerance",
				c.Name,
			)
		}
		part := filePart{Solid: c.Made, Name: c.Name, Color: c.Part.Color}
		if !together {
			part.Moves = c.Part.ID
		}
		for i, o := range c.Owners {
			part.Paints = append(part.Paints, write.Paint{
				Name: c.Names[i], Color: o.Color, Looks: stages.Looks(&p.Recipe.Scene, o),
			})
		}
		in.Parts = append(in.Parts, part)
	}
	if len(in.Parts) == 0 {
		return stages.Made[*result]{}, errNothing
	}
	if write.Standing(format) {
		in.Scene = p.Recipe.Scene
	}
	if format == "3mf" && len(checked) > 0 {
		in.Note = s.changesNote(ctx, p)
	}
	if format != "stl" {
		solids, err := s.unrolled(ctx, p, together)
		if err != nil {
			return stages.Made[*result]{}, err
		}
		for i := range in.Parts {
			in.Parts[i].Solid = solids[i]
		}
	}
	progress.Set(ctx, "Writing the file", 0)
	return s.fileStage().Make(ctx, s.files, in)
}

func (s *Studio) fileStage() stages.Stage[fileInput, *result] {
	return stages.Stage[fileInput, *result]{
		Name: "file",
		Size: fileSize,
		Run: func(_ context.Context, in fileInput) (*result, error) {
			var parts []write.Part
			for _, p := range in.Parts {
				parts = append(parts, write.Part{
					Name: p.Name, Color: p.Color, Mesh: p.Solid.Value.Mesh, Paints: p.Paints, Moves: p.Moves,
				})
			}
			film := stages.FilmOf(&in.Scene, parts, &in.Pose)
			parts = stages.Place(parts, &in.Pose, write.Standing(in.Format))
			return s.toFile(func(w io.Writer) error {
				switch in.Format {
				case "3mf":
					return write.ThreeMF(w, parts, in.Note)
				case "obj":
					return write.OBJ(w, io.Discard, in.Name+".mtl", parts)
				case "mtl":
					return write.OBJ(io.Discard, w, in.Name+".mtl", parts)
				}
				return write.Solids(w, in.Format, parts, film)
			})
		},
	}
}

// gcodeInput is what a print file depends on.
type gcodeInput struct{ Job stages.Made[*print.Job] }

func (s *Studio) exportGCode(ctx context.Context, p Piece) (stages.Made[*result], error) {
	job, err := s.PrintJob(ctx, p)
	if err != nil {
		return stages.Made[*result]{}, err
	}
	stage := stages.Stage[gcodeInput, *result]{
		Name: "gcode", Size: fileSize,
		Run: func(_ context.Context, in gcodeInput) (*result, error) { return s.toFile(in.Job.Value.GCode) },
	}
	return stage.Make(ctx, s.files, gcodeInput{job})
}

// changesNote tells in which layers the filament is changed, where parts have several colours
// and the piece can be printed; else it is empty.
func (s *Studio) changesNote(ctx context.Context, p Piece) string {
	lain, err := s.lying(ctx, p, false)
	if err != nil {
		return ""
	}
	layered, err := s.cut(ctx, p, lain) // for any bed: others may have a larger one
	if err != nil {
		return ""
	}
	changes := print.Changes(layered.Value.Layers, layered.Value.Inks)
	if len(changes) < 2 {
		return ""
	}
	var lines []string
	for i, c := range changes {
		line := fmt.Sprintf("%s (%s) from layer %d on, %s mm up", c.Name, c.Color, c.Layer, units.Figure(c.Z))
		if i == 0 {
			line = fmt.Sprintf("%s (%s) to begin with", c.Name, c.Color)
		}
		lines = append(lines, line)
	}
	how := &p.Recipe.Print
	return fmt.Sprintf("Colours by height, in layers of %g mm, the first %g mm: %s.", how.Layer, how.First, strings.Join(lines, "; "))
}

func (s *Studio) exportOutlines(ctx context.Context, p Piece, format string) (stages.Made[*result], error) {
	regions, err := s.line(ctx, p).Regions(ctx)
	if err != nil {
		return stages.Made[*result]{}, err
	}
	in := outlinesInput{Format: format, Regions: regions}
	names := stages.Names(&p.Recipe, regions.Value)
	depths := map[int]float64{} // of bodies, as a relief has them
	for _, b := range stages.Arrangement(regions.Value, &p.Recipe.Parts) {
		depths[b.Index] = b.How.Depth
	}
	for i := range regions.Value.Parts {
		if Out(&p.Recipe.Parts, regions.Value.Parts[i].ID) {
			continue
		}
		depth, body := depths[i]
		if !body {
			depth = p.Recipe.Parts.Measures(regions.Value.Parts[i].ID).Depth
		}
		in.Parts = append(in.Parts, outlinePart{i, names[i], depth})
	}
	stage := stages.Stage[outlinesInput, *result]{
		Name: "outlines",
		Size: fileSize,
		Run: func(_ context.Context, in outlinesInput) (*result, error) {
			r := in.Regions.Value
			var cuts []write.Cut
			for _, p := range in.Parts {
				o := &r.Parts[p.Index]
				out := write.Outline{Name: p.Name, Color: o.Color, Region: o.Region.Value}
				cuts = append(cuts, write.Cut{Outline: out, Depth: p.Depth})
			}
			if in.Format == "dxf" {
				return s.toFile(func(w io.Writer) error { return write.DXF(w, cuts, r.Step) })
			}
			return s.toFile(
				func(w io.Writer) error { return write.PartsSVG(w, cuts, r.Step, r.Width, r.Height) },
			)
		},
	}
	return stage.Make(ctx, s.files, in)
}

// toFile writes a result to a file of its own.
func (s *Studio) toFile(f func(io.Writer) error) (*result, error) {
	out, err := os.CreateTemp(s.dir, "result-*")
	if err != nil {
		return nil, err
	}
	b := bufio.NewWriterSize(out, 1<<16)
	if err = f(b); err == nil {
		err = b.Flush()
	}
	if end := out.Close(); err == nil {
		err = end
	}
	if err != nil {
		os.Remove(out.Name())
		return nil, err
	}
	return &result{out.Name()}, nil
}

func fileSize(r *result) int64 {
	st, err := os.Stat(r.path)
	if err != nil {
		return 0
	}
	return st.Size()
}

// Out reports whether a part is left out of the piece.
func Out(parts *recipe.Parts, id string) bool {
	return parts.IsOut(id)
}
