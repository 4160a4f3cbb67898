package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mesh"
	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
)

// flags parses args that mix files and flags.
func flags(fs *flag.FlagSet, args []string, stderr io.Writer) ([]string, error) {
	fs.SetOutput(stderr)
	fs.Usage = func() { fmt.Fprint(stderr, usage) }
	var files []string
	for {
		if err := fs.Parse(args); err != nil {
			return nil, errUsage
		}
		args = fs.Args()
		if len(args) == 0 {
			break
		}
		files = append(files, args[0])
		args = args[1:]
	}
	if len(files) == 0 {
		fmt.Fprintf(stderr, "bildhauer %s: no file given\n", fs.Name())
		return nil, errUsage
	}
	return files, nil
}

func wrong(stderr io.Writer, format string, args ...any) error {
	fmt.Fprintf(stderr, "bildhauer: "+format+"\n", args...)
	return errUsage
}

// each runs f for every file; a failure is reported and does not stop the
// others.
func each(files []string, stderr io.Writer, f func(path string) error) error {
	failed := false
	for _, path := range files {
		if err := f(path); err != nil {
			if errors.Is(err, errUsage) {
				return err
			}
			fmt.Fprintf(stderr, "bildhauer: %v\n", err)
			failed = true
		}
	}
	if failed {
		return errSome
	}
	return nil
}

// reading says how the files of a command are read.
type reading struct {
	page  int
	fonts []string
}

// readFlags adds the flags of reading to a command.
func readFlags(fs *flag.FlagSet) *reading {
	r := &reading{}
	fs.IntVar(&r.page, "page", 0, "")
	fs.Func("font", "", func(s string) error { r.fonts = append(r.fonts, s); return nil })
	return r
}

// library opens the fonts that were named.
func (r *reading) library() (*font.Library, error) {
	lib := &font.Library{}
	for _, path := range r.fonts {
		data, err := os.ReadFile(path)
		if err != nil {
			return nil, fmt.Errorf("%s can't be read: %v", path, unwrapPath(err))
		}
		f, err := font.ParseFace(data)
		if err != nil {
			return nil, fmt.Errorf("%s %v", path, err)
		}
		lib.Added = append(lib.Added, f)
	}
	return lib, nil
}

func (r *reading) load(path string) (*artwork.Sheet, error) {
	st, err := os.Stat(path)
	if err != nil {
		return nil, fmt.Errorf("%s can't be opened: %v", path, unwrapPath(err))
	}
	if st.IsDir() {
		return nil, fmt.Errorf("%s is a folder; name the files in it", path)
	}
	if st.Size() > read.MaxBytes {
		return nil, fmt.Errorf("%s has %d MB; the most that is read is %d MB. Leave out embedded bitmaps or split the artwork", path, st.Size()>>20, read.MaxBytes>>20)
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %v", path, unwrapPath(err))
	}
	lib, err := r.library()
	if err != nil {
		return nil, err
	}
	return read.SheetWith(path, data, read.Options{Fonts: lib, Page: r.page})
}

func unwrapPath(err error) error {
	var p *os.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}

type inspected struct {
	File     string         `json:"file"`
	Format   string         `json:"format"`
	WidthMM  float64        `json:"width_mm"`
	HeightMM float64        `json:"height_mm"`
	Layers   []string       `json:"layers"`
	Groups   int            `json:"groups"`
	Shapes   int            `json:"shapes"`
	Strokes  int            `json:"strokes"`
	Texts    int            `json:"texts"`
	Pages    int            `json:"pages,omitempty"` // of formats with pages
	Hidden   int            `json:"hidden"`
	OffPage  int            `json:"off_page"`
	Contours int            `json:"contours"`
	Nodes    int            `json:"nodes"`
	Colours  []string       `json:"colours"`
	Art      [4]float64     `json:"artwork_mm"` // x, y, width, height on the page
	Findings []string       `json:"findings"`
	Notes    []artwork.Note `json:"notes"`
}

func inspect(args []string, stdout, stderr io.Writer) error {
	fs := flag.NewFlagSet("inspect", flag.ContinueOnError)
	how := readFlags(fs)
	files, err := flags(fs, args, stderr)
	if err != nil {
		return err
	}
	out := json.NewEncoder(stdout)
	return each(files, stderr, func(path string) error {
		s, err := how.load(path)
		if err != nil {
			return err
		}
		const mm = artwork.MMPerPx
		r := inspected{File: path, Format: s.Format, WidthMM: round(s.Page.W() * mm), HeightMM: round(s.Page.H() * mm),
			Groups: len(s.Groups), Shapes: len(s.Shapes), Pages: s.Pages, Nodes: s.Nodes(), Layers: []string{}, Colours: []string{}, Findings: []string{}, Notes: []artwork.Note{}}
		for _, g := range s.Groups {
			if g.Layer {
				r.Layers = append(r.Layers, g.Name)
			}
		}
		seen := map[string]bool{}
		box := geom.EmptyBox()
		for i := range s.Shapes {
			sh := &s.Shapes[i]
			r.Contours += len(sh.Contours)
			if sh.Stroke != nil {
				r.Strokes++
			}
			if sh.Text != "" {
				r.Texts++
			}
			if sh.Hidden {
				r.Hidden++
			}
			if s.OffPage(i) {
				r.OffPage++
			}
			if hex := sh.Color.Hex(); !seen[hex] {
				seen[hex] = true
				r.Colours = append(r.Colours, hex)
			}
			box = box.Union(sh.Box())
		}
		if !box.Empty() {
			r.Art = [4]float64{round(box.Min.X * mm), round(box.Min.Y * mm), round(box.W() * mm), round(box.H() * mm)}
		}
		for _, n := range s.Notes {
			n.Keys, n.Places = nil, nil
			r.Notes = append(r.Notes, n)
		}
		return out.Encode(r)
	})
}

func round(v float64) float64 {
	return float64(int64(v*1e4+0.5)) / 1e4
}

func clean(args []string, stdout, stderr io.Writer) error {
	fs := flag.NewFlagSet("clean", flag.ContinueOnError)
	how := readFlags(fs)
	out := fs.String("o", "", "")
	dir := fs.String("d", "", "")
	tol := fs.Float64("tolerance", 0.02, "")
	hidden := fs.Bool("hidden", false, "")
	files, err := flags(fs, args, stderr)
	if err != nil {
		return err
	}
	if (*out == "") == (*dir == "") {
		return wrong(stderr, "clean needs either -o OUT.svg or -d DIR")
	}
	if *out != "" && len(files) > 1 {
		return wrong(stderr, "several files need -d DIR")
	}
	if !(*tol > 0) {
		return wrong(stderr, "--tolerance takes px above 0")
	}
	return each(files, stderr, func(path string) error {
		s, err := how.load(path)
		if err != nil {
			return err
		}
		r := recipe.New()
		return create(target(*out, *dir, path, "svg"), func(w io.Writer) error {
			return write.CleanSVG(w, s, func(i int) bool { return r.Included(s, i) || *hidden }, *tol)
		})
	})
}

// target returns where the result for a file goes.
func target(out, dir, path, format string) string {
	if out != "" {
		return out
	}
	base := filepath.Base(path)
	return filepath.Join(dir, strings.TrimSuffix(base, filepath.Ext(base))+"."+format)
}

// create writes a file whole or not at all.
func create(path string, f func(io.Writer) error) error {
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return fmt.Errorf("%s can't be written: %v", path, unwrapPath(err))
	}
	tmp, err := os.CreateTemp(filepath.Dir(path), ".bildhauer-*")
	if err != nil {
		return fmt.Errorf("%s can't be written: %v", path, unwrapPath(err))
	}
	defer os.Remove(tmp.Name())
	if err := f(tmp); err != nil {
		tmp.Close()
		return err
	}
	if err := tmp.Close(); err != nil {
		return fmt.Errorf("%s can't be written: %v", path, unwrapPath(err))
	}
	if err := os.Chmod(tmp.Name(), 0o644); err != nil {
		return err
	}
	return os.Rename(tmp.Name(), path)
}

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
	Watertight bool       `json:"watertight"`
	Crossings  int        `json:"crossings"`
	VolumeMM3  float64    `json:"volume_mm3"`
	SizeMM     [3]float64 `json:"size_mm"`
}

func makeSolids(args []string, stdout, stderr io.Writer) error {
	fs := flag.NewFlagSet("make", flag.ContinueOnError)
	how := readFlags(fs)
	out := fs.String("o", "", "")
	dir := fs.String("d", "", "")
	format := fs.String("format", "", "")
	recipeFile := fs.String("recipe", "", "")
	showStats := fs.Bool("stats", false, "")
	r := recipe.New()
	length := func(name string, set func(mm float64)) {
		fs.Func(name, "", func(v string) error {
			mm, err := recipe.ParseLength(v, "mm")
			if err == nil {
				set(mm)
			}
			return err
		})
	}
	var changes []func(*recipe.Recipe)
	change := func(f func(*recipe.Recipe)) { changes = append(changes, f) }
	length("width", func(mm float64) {
		change(func(r *recipe.Recipe) { r.Size = recipe.Size{By: "width", MM: mm} })
	})
	length("height", func(mm float64) {
		change(func(r *recipe.Recipe) { r.Size = recipe.Size{By: "height", MM: mm} })
	})
	length("depth", func(mm float64) { change(func(r *recipe.Recipe) { r.Default.Depth = mm }) })
	length("bevel", func(mm float64) { change(func(r *recipe.Recipe) { r.Default.Width, r.Default.Height = mm, mm }) })
	length("bevel-height", func(mm float64) { change(func(r *recipe.Recipe) { r.Default.Height = mm }) })
	length("tolerance", func(mm float64) { change(func(r *recipe.Recipe) { r.Tolerance = mm }) })
	fs.Func("profile", "", func(v string) error {
		change(func(r *recipe.Recipe) { r.Default.Profile = raise.Profile(v) })
		return raise.Profile(v).Valid()
	})
	segments := fs.Int("segments", 0, "")
	fs.Func("back", "", func(v string) error { change(func(r *recipe.Recipe) { r.Default.Back = v }); return nil })
	fs.Func("overlap", "", func(v string) error { change(func(r *recipe.Recipe) { r.Overlap = v }); return nil })
	files, err := flags(fs, args, stderr)
	if err != nil {
		return err
	}
	if *segments != 0 {
		change(func(r *recipe.Recipe) { r.Default.Segments = *segments })
	}
	if (*out == "") == (*dir == "") {
		return wrong(stderr, "make needs either -o OUT or -d DIR with --format")
	}
	if *out != "" && len(files) > 1 {
		return wrong(stderr, "several files need -d DIR")
	}
	kind := *format
	if kind == "" && *out != "" {
		kind = strings.TrimPrefix(strings.ToLower(filepath.Ext(*out)), ".")
	}
	if kind == "" {
		kind = "stl"
	}
	if !known(kind) {
		return wrong(stderr, "the format %q is not known; there are %s", kind, strings.Join(write.Formats, ", "))
	}
	if *recipeFile != "" {
		data, err := os.ReadFile(*recipeFile)
		if err != nil {
			return wrong(stderr, "%s can't be read: %v", *recipeFile, unwrapPath(err))
		}
		if r, err = recipe.Parse(data); err != nil {
			return wrong(stderr, "%s: %v", *recipeFile, err)
		}
	}
	for _, f := range changes {
		f(&r)
	}
	if err := r.Check(); err != nil {
		return wrong(stderr, "%v", err)
	}
	enc := json.NewEncoder(stdout)
	return each(files, stderr, func(path string) error {
		st, err := makeOne(how, path, target(*out, *dir, path, kind), kind, r)
		if st != nil && *showStats {
			enc.Encode(st)
		}
		return err
	})
}

func known(format string) bool {
	for _, f := range write.Formats {
		if f == format {
			return true
		}
	}
	return false
}

// makeOne carries one file from artwork to mesh. A solid that is not sound is
// written all the same, and reported as an error.
func makeOne(from *reading, path, out, format string, r recipe.Recipe) (*stats, error) {
	ms := func(since time.Time) float64 { return float64(time.Since(since).Microseconds()) / 1000 }
	ctx := context.Background()
	st := &stats{File: path, Out: out, Watertight: true}
	t := time.Now()
	s, err := from.load(path)
	if err != nil {
		return nil, err
	}
	st.ReadMS = ms(t)
	t = time.Now()
	p, err := recipe.Apply(ctx, s, &r)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	s = nil // large artwork: the outlines are all that is needed from here
	var parts []write.Part
	for i := range p.Parts {
		part := &p.Parts[i]
		how := r.Of(part.ID)
		if how.Out {
			continue
		}
		plan, m, err := p.Raise(ctx, part, how)
		if err != nil {
			return nil, fmt.Errorf("%s: part %s: %w", path, part.Name, err)
		}
		if format != "stl" {
			plan.Shade(m, how.Spec(), how.Bevel(), raise.Crease)
		}
		st.Segments += part.Region.Edges()
		part.Region = nil
		parts = append(parts, write.Part{Name: part.Name, Color: part.Color, Mesh: m})
	}
	st.BuildMS = ms(t)
	t = time.Now()
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
		st.SizeMM[2] = max(st.SizeMM[2], rise(part.Mesh))
	}
	st.SizeMM[0], st.SizeMM[1] = round(p.Width), round(p.Height)
	st.Parts = len(parts)
	st.CheckMS = ms(t)
	t = time.Now()
	if len(parts) == 0 {
		return nil, fmt.Errorf("%s: every part is left out by the recipe", path)
	}
	err = create(out, func(w io.Writer) error {
		switch format {
		case "glb":
			return write.GLB(w, parts)
		case "obj":
			mtl := strings.TrimSuffix(out, filepath.Ext(out)) + ".mtl"
			return create(mtl, func(m io.Writer) error { return write.OBJ(w, m, filepath.Base(mtl), parts) })
		}
		return write.STL(w, parts)
	})
	st.WriteMS = ms(t)
	if err == nil && len(unsound) > 0 {
		err = fmt.Errorf("%s: written, but not sound: %s. Please keep the file and tell us about it", path, strings.Join(unsound, ", "))
	}
	return st, err
}

func rise(m *mesh.Mesh) float64 {
	lo, hi := m.Box()
	return round(hi[2] - lo[2])
}
