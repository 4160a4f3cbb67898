package studio

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"bildhauer/core/mesh"
	"bildhauer/core/print"
	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/units"
	"bildhauer/core/write"
)

// Contents is the sheet that comes with all parts of a piece: what there is and how large.
type Contents struct {
	Piece string        `json:"piece"`
	Unit  string        `json:"unit"` // of all lengths
	Size  [3]float64    `json:"size"` // of the whole
	Mass  float64       `json:"mass"` // g, if all is filled
	Of    string        `json:"of"`   // the material that this mass is of
	Parts []ContentPart `json:"parts"`
}

// ContentPart is one part of the sheet.
type ContentPart struct {
	Name      string     `json:"name"`
	File      string     `json:"file,omitempty"`
	Color     string     `json:"color"`
	Material  string     `json:"material,omitempty"` // that Show gives it
	Size      [3]float64 `json:"size"`
	VolumeMM3 float64    `json:"volumeMm3"`
	Mass      float64    `json:"mass"` // g
	Triangles int        `json:"triangles"`
	Sound     bool       `json:"sound"`
}

// UsualPattern names files where nobody has said how.
const UsualPattern = "{piece}-{n}-{part}"

// archiveInput is what an archive of all parts depends on.
type archiveInput struct {
	Name    string // of the piece, as files have it
	Pattern string
	Format  string // of the parts
	Pose    recipe.Size
	Parts   []filePart
	Looks   []string // name of each part's material
	Of      string   // what it is printed with
}

// Archive writes all parts, each as a file of its own under a name by a pattern, in one ZIP
// with a sheet of contents (contents.json).
func (s *Studio) Archive(ctx context.Context, p Piece, name, pattern, format string) (*Export, error) {
	if pattern == "" {
		pattern = UsualPattern
	}
	if !strings.Contains(pattern, "{n}") && !strings.Contains(pattern, "{part}") || len(pattern) > 100 {
		return nil, input("names have {part} or {n} in them, so that no two are the same")
	}
	if format != "stl" && format != "3mf" && format != "ply" && format != "glb" {
		return nil, input("parts by themselves are written as stl, 3mf, ply or glb")
	}
	in, err := s.archiveInput(ctx, p)
	if err != nil {
		return nil, err
	}
	in.Name, in.Pattern, in.Format = name, pattern, format
	progress.Set(ctx, "Writing all parts", 0)
	stage := stages.Stage[archiveInput, *result]{
		Name: "archive", Size: fileSize,
		Run: func(ctx context.Context, in archiveInput) (*result, error) {
			return s.toFile(func(w io.Writer) error { return in.write(ctx, w) })
		},
	}
	made, err := stage.Make(ctx, s.files, in)
	if err != nil {
		return nil, err
	}
	return &Export{made.Value.path, "application/zip"}, nil
}

// archiveInput collects the parts of a piece.
func (s *Studio) archiveInput(ctx context.Context, p Piece) (in archiveInput, err error) {
	list, err := s.Checks(ctx, p)
	if err != nil {
		return in, err
	}
	size := p.Recipe.Size
	in.Of = p.Recipe.Print.Material
	in.Pose = recipe.Size{Origin: size.Origin, Lying: size.Lying, Up: size.Up}
	for _, c := range list {
		if c.Report.Nothing() {
			continue
		}
		if !c.Report.Sound() {
			return in, input("%s is not sound, see the checks", c.Name)
		}
		in.Parts = append(in.Parts, filePart{Solid: c.Made, Name: c.Name, Color: c.Part.Color})
		in.Looks = append(in.Looks, stages.MaterialName(&p.Recipe.Scene, c.Part.ID))
	}
	if len(in.Parts) == 0 {
		return in, errNothing
	}
	return in, nil
}

// Sheet tells what there is of a piece, as the sheet of an archive does.
func (s *Studio) Sheet(ctx context.Context, p Piece) (Contents, error) {
	in, err := s.archiveInput(ctx, p)
	if err != nil {
		return Contents{}, err
	}
	in.Name = p.Recipe.Name
	return in.sheet(in.parts("stl"), nil), nil
}

// parts places the parts as a format has them.
func (in *archiveInput) parts(format string) []write.Part {
	var parts []write.Part
	for _, p := range in.Parts {
		parts = append(parts, write.Part{Name: p.Name, Color: p.Color, Mesh: p.Solid.Value.Mesh})
	}
	return stages.Place(parts, &in.Pose, write.Standing(format))
}

// sheet lists parts, with the names of their files if there are.
func (in *archiveInput) sheet(parts []write.Part, files []string) Contents {
	out := Contents{Piece: in.Name, Unit: "mm", Size: span(parts...), Of: in.Of}
	density := print.Materials[in.Of].Density
	for i, p := range parts {
		r := mesh.Check(p.Mesh, false)
		c := ContentPart{
			Name: p.Name, Color: p.Color.Hex(), Material: in.Looks[i], Size: span(p), VolumeMM3: units.Round(r.VolumeMM3, 3),
			Mass: units.Round(r.VolumeMM3/1000*density, 3), Triangles: r.Triangles, Sound: r.Sound(),
		}
		if files != nil {
			c.File = files[i]
		}
		out.Mass += c.Mass
		out.Parts = append(out.Parts, c)
	}
	return out
}

func (in *archiveInput) write(ctx context.Context, w io.Writer) error {
	parts := in.parts(in.Format)
	z := zip.NewWriter(w)
	used := map[string]bool{"contents.json": true}
	var files []string
	for i, p := range parts {
		progress.Set(ctx, "Writing "+p.Name, float64(i)/float64(len(parts)))
		file := in.file(p.Name, i, used)
		files = append(files, file)
		out, err := z.Create(file)
		if err != nil {
			return err
		}
		if err := write.Solids(out, in.Format, parts[i:i+1], nil); err != nil {
			return err
		}
	}
	sheet := in.sheet(parts, files)
	out, err := z.Create("contents.json")
	if err != nil {
		return err
	}
	e := json.NewEncoder(out)
	e.SetIndent("", "  ")
	if err := e.Encode(sheet); err != nil {
		return err
	}
	return z.Close()
}

// file names the n-th part by the pattern; none twice.
func (in *archiveInput) file(part string, n int, used map[string]bool) string {
	clean := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || r == '-' || r == '_' || r == '.' {
			return r
		}
		return '-'
	}, strings.NewReplacer("{piece}", in.Name, "{part}", part, "{n}", fmt.Sprintf("%02d", n+1)).Replace(in.Pattern))
	base := strings.Trim(clean, ".-")
	name := base + "." + in.Format
	for k := 2; used[strings.ToLower(name)]; k++ { // many systems take capitals for small letters
		name = fmt.Sprintf("%s-%d.%s", base, k, in.Format)
	}
	used[strings.ToLower(name)] = true
	return name
}

// span returns how large parts are together, mm.
func span(parts ...write.Part) (out [3]float64) {
	var lo, hi [3]float64
	for i, p := range parts {
		a, b := p.Mesh.Box()
		for k := range 3 {
			if i == 0 {
				lo[k], hi[k] = a[k], b[k]
			}
			lo[k], hi[k] = min(lo[k], a[k]), max(hi[k], b[k])
		}
	}
	for k := range out {
		out[k] = units.Round(hi[k]-lo[k], 4)
	}
	return out
}
