package main

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/stages"
	"bildhauer/core/terms"
	"bildhauer/studio"
)

// picturing is how picture was called.
type picturing struct {
	making
	w, h    int
	samples int
	quality string
	calm    bool
	kept    *recipe.Motion // the move of a file that move names
	unit    string         // of a move: what moves as one
	order   string
	pivot   string
	overlap float64
	lasts   float64 // frames
	seconds float64
	seed    uint
	raw     bool // the noise stays
	passes  bool
	frame   float64
	move    string
	frames  int // of the clip
	from    int
	to      int // the last; -1 for that of the clip
	clip    bool
	shutter float64 // share of a frame; -1 for that of the recipe
	around  string  // a file of own surroundings
	piece   string  // id of a piece of the data folder, instead of files
	data    string
	scene   bool // of the recipe, for a piece
}

// pictureMost is the most pixels to a side, and the memory that a picture may take.
const (
	pictureMost  = 8192
	pictureBytes = 4 << 30
)

// pictureCommand is both commands: picture makes one a file, frames a numbered one for each frame.
func pictureCommand(name string) *cobra.Command {
	p := &picturing{making: making{}, clip: name == "frames", w: 960, seed: 1, to: -1, shutter: -1}
	var to *outputs
	run := func(c *cobra.Command, files []string) error {
		// Collecting takes little of a picture's time, and what is left lying about half of the
		// memory.
		defer debug.SetGCPercent(debug.SetGCPercent(80))
		return p.run(c, files, to)
	}
	use, short := "picture (FILE... | --piece ID --data DIR) (-o OUT | -d DIR)", "Makes pictures of solids"
	if p.clip {
		use, short = "frames (FILE... | --piece ID --data DIR) -d DIR", "Makes a numbered picture a frame; finished ones stay"
	}
	c := command(use, short, "Results are PNG, OpenEXR or Radiance HDR, by --format or the ending of -o.", cobra.ArbitraryArgs, run)
	p.read, to = readFlags(c), outFlags(c)
	c.Flags().BoolVar(&p.stats, "stats", false, "Prints what was made as JSON, one object a line.")
	p.decisions(c)
	p.flags(c)
	return c
}

func (p *picturing) run(c *cobra.Command, files []string, to *outputs) error {
	fs := c.Flags()
	if err := oneOf(fs, "quality seconds samples"); err != nil {
		return err
	}
	switch {
	case p.piece == "" && len(files) == 0:
		return wrong("%s: no file given", c.Name())
	case p.piece != "" && (len(files) > 0 || p.data == ""):
		return wrong("--piece takes one piece of the folder that --data names, and no files")
	case p.piece == "" && p.data != "":
		return wrong("--data goes with --piece")
	}
	if p.piece != "" {
		files = []string{p.piece}
		if err := p.checkPiece(fs); err != nil {
			return wrong("%v", err)
		}
	}
	if err := to.check(c.Name(), len(files)); err != nil {
		return err
	}
	if p.clip && to.dir == "" {
		return wrong("frames are several files: give a folder with -d")
	}
	if err := p.chooseFormat(to); err != nil {
		return wrong("%v", err)
	}
	if err := p.decide(c); err != nil {
		return err
	}
	if err := p.check(); err != nil {
		return wrong("%v", err)
	}
	var err error
	if p.target, err = to.targets(files, strings.TrimSuffix(p.format, "8")); err != nil {
		return wrong("%v", err)
	}
	if err := p.read.open(); err != nil {
		return err
	}
	if p.piece != "" {
		return p.ofPiece(c.Context(), c.OutOrStdout())
	}
	return each(c, files, p.one)
}

// chooseFormat takes the format from the ending of the result unless it is given; where both are, they agree.
func (p *picturing) chooseFormat(to *outputs) error {
	ending := to.ending()
	known := slices.Contains(stages.PictureFormats, ending)
	if p.format != "" && known && ending != strings.TrimSuffix(p.format, "8") {
		return fmt.Errorf("-o %s is to be %s by its ending, and %s by --format; give one of them", to.out, ending, p.format)
	}
	if p.format == "" && known {
		p.format = ending
	}
	p.format = cmp.Or(p.format, "png")
	return nil
}

// ofPictures names the flags that go with a piece of the application: all others are
// decisions, and it brings its own. A recipe takes the place of its scene.
var ofPictures = strings.Fields("piece data recipe out dir size samples quality seconds seed raw calm passes frame move unit order pivot overlapping lasts frames from to format shutter stats")

// checkPiece refuses what a piece of a data folder can't be given.
func (p *picturing) checkPiece(fs *pflag.FlagSet) (err error) {
	fs.Visit(func(f *pflag.Flag) {
		p.scene = p.scene || f.Name == "recipe"
		if !slices.Contains(ofPictures, f.Name) {
			err = fmt.Errorf("a piece brings its own decisions: --%s goes with files", f.Name)
		}
	})
	if _, missing := os.Stat(filepath.Join(p.data, "bildhauer.db")); err == nil && missing != nil {
		err = fmt.Errorf("there are no pieces in %s", p.data)
	}
	return err
}

// flags adds those of pictures, and of clips.
func (p *picturing) flags(c *cobra.Command) {
	fs := c.Flags()
	fs.Var(&value{kind: "WxH", set: func(text string) (err error) {
		p.w, p.h, err = sizeOf(text)
		return err
	}}, "size", "Width by height in pixels, as 1920x1080.")
	choiceFlag(c, "quality", func(name string) { p.quality = name })
	choiceFlag(c, "pictureFormat", func(name string) { p.format = name })
	fs.IntVar(&p.samples, "samples", 0, "How many samples `N` each pixel gets; usually 32.")
	fs.Float64Var(&p.seconds, "seconds", 0, "How long it is traced, instead.")
	fs.UintVar(&p.seed, "seed", 1, "The random seed of the noise.")
	fs.BoolVar(&p.raw, "raw", false, "Leaves the noise in; exr and hdr always do, but with --calm.")
	fs.BoolVar(&p.calm, "calm", false, "Takes the noise off linear files, too.")
	fs.BoolVar(&p.passes, "passes", false, "Adds depth, normals, shadow and a mask for each part, in exr.")
	fs.StringVar(&p.around, "around", "", "A Radiance HDR `FILE` for the surroundings.")
	numberOf(fs, "shutter", func(v float64) { p.shutter = v })
	p.motionFlags(c)
	fs.StringVar(&p.piece, "piece", "", "The `ID` of a piece of the application, instead of files.")
	fs.StringVar(&p.data, "data", "", "The `DIR` that it is in.")
}

func (p *picturing) motionFlags(c *cobra.Command) {
	fs := c.Flags()
	move := terms.Pick("move")
	fs.StringVar(&p.move, move.Flag, "", move.Help+" One of: "+move.List()+".")
	_ = c.RegisterFlagCompletionFunc(move.Flag, cobra.FixedCompletions(terms.Names("move"), cobra.ShellCompDirectiveDefault))
	choiceFlag(c, "unit", func(name string) { p.unit = name })
	choiceFlag(c, "order", func(name string) { p.order = name })
	choiceFlag(c, "pivot", func(name string) { p.pivot = name })
	numberOf(fs, "move.overlap", func(v float64) { p.overlap = v })
	fs.Float64Var(&p.lasts, "lasts", 0, "How many frames each takes.")
	fs.IntVar(&p.frames, "frames", 0, "How many frames the clip has.")
	if p.clip {
		fs.IntVar(&p.from, "from", 0, "The first frame to make.")
		fs.IntVar(&p.to, "to", -1, "The last one.")
	} else {
		fs.Float64Var(&p.frame, "frame", 0, "The frame of the clip that is shown.")
	}
}

// sizeOf reads width by height.
func sizeOf(text string) (w, h int, err error) {
	a, b, found := strings.Cut(text, "x")
	w, errW := strconv.Atoi(a)
	h, errH := strconv.Atoi(b)
	if !found || errW != nil || errH != nil {
		return 0, 0, errors.New("a size is width by height in pixels, as 1920x1080")
	}
	return w, h, nil
}

func (p *picturing) check() error {
	if p.passes && p.format != "exr" {
		return errors.New("passes go into an exr file")
	}
	if p.piece == "" {
		return p.settle(&p.recipe)
	}
	return nil
}

// settle works out size, samples and frames under a recipe, which it changes.
func (p *picturing) settle(r *recipe.Recipe) error {
	if p.around != "" {
		r.Scene.Surroundings.File, r.Scene.Surroundings.Name = p.around, filepath.Base(p.around)
	}
	if p.shutter >= 0 {
		r.Scene.Motion.Shutter = p.shutter
	}
	if err := p.setMotion(&r.Scene.Motion); err != nil {
		return err
	}
	ratio, err := r.Scene.Camera.Ratio()
	if err != nil {
		return err
	}
	if p.h == 0 {
		p.h = max(1, int(float64(p.w)/ratio+0.5))
	}
	if p.w < 1 || p.h < 1 || p.w > pictureMost || p.h > pictureMost {
		return fmt.Errorf("a picture is between 1 and %d pixels wide and high, not %dx%d", pictureMost, p.w, p.h)
	}
	if need := stages.PictureBytes(p.w, p.h, p.masks()); need > pictureBytes {
		return fmt.Errorf("a picture of %dx%d takes %d MB of memory, more than the %d MB there may be",
			p.w, p.h, need>>20, pictureBytes>>20)
	}
	switch {
	case p.samples < 0 || p.seconds < 0:
		return errors.New("samples and seconds are not less than 0")
	case p.clip && p.seconds > 0:
		return errors.New("frames are alike by their samples, not by time")
	case p.samples == 0 && p.seconds == 0 && p.quality == "":
		p.samples = 32
	}
	// The picture decides its aspect, whatever the recipe says.
	r.Scene.Camera.Aspect = fmt.Sprintf("%d:%d", p.w, p.h)
	return r.Check()
}

// masks is how many masks are reckoned with before parts are known.
func (p *picturing) masks() int {
	if p.passes {
		return 16
	}
	return 0
}

// shot is what picture prints of a file.
type shot struct {
	File    string  `json:"file"`
	Out     string  `json:"out"`
	Size    [2]int  `json:"size"`
	Samples int     `json:"samples"`
	Noise   float64 `json:"noise"` // before the filter, as a share of the light
	BuildMS float64 `json:"build_ms"`
	TraceMS float64 `json:"trace_ms"`
}

// one makes the picture of one file.
func (p *picturing) one(ctx context.Context, j job) error {
	begun := time.Now()
	sheet, err := p.read.load(ctx, j.path)
	if err != nil {
		return err
	}
	line, regions, err := p.regions(ctx, sheet, nil)
	if err != nil {
		return fmt.Errorf("%s: %w", j.path, err)
	}
	line.Open = func(file string) stages.Source {
		return stages.Source{ID: file, Load: func() ([]byte, error) { return os.ReadFile(file) }, Read: readers().Sheet}
	}
	from := once(func(frame float64) (stages.Shown, error) { return line.Lit(ctx, regions, frame) })
	if p.move != "" {
		at, err := line.Shown(ctx, regions, 0)
		if err == nil {
			err = p.give(&at, &line.Recipe.Scene)
		}
		if err != nil {
			return fmt.Errorf("%s: %w", j.path, err)
		}
	}
	if err := p.shootAll(ctx, j.path, p.target[j.n], begun, from, j.stdout); err != nil {
		return fmt.Errorf("%s: %w", j.path, err)
	}
	return nil
}

// give gives the move that is asked for, a ready one or one that was kept in a file: to the piece, or to its parts where
// they are to follow each other.
func (p *picturing) give(at *stages.Shown, scene *recipe.Scene) error {
	scene.Motion.Tracks, scene.Motion.Paths = nil, nil
	a := show.Act{Move: p.move, Unit: p.unit, Order: p.order, Overlap: p.overlap, Pivot: p.pivot, Frames: p.lasts, Kept: p.kept}
	if p.unit != "" || p.order != "" {
		for _, s := range at.Spots() {
			a.Parts = append(a.Parts, s.ID)
		}
	}
	return at.Give(scene, a)
}

// once raises what does not grow from frame to frame a single time.
func once(from func(frame float64) (stages.Shown, error)) func(frame float64) (stages.Shown, error) {
	var kept *stages.Shown
	return func(frame float64) (stages.Shown, error) {
		if kept != nil {
			return *kept, nil
		}
		at, err := from(frame)
		if err == nil && show.Grown(&at.Scene.Motion, frame) == nil {
			kept = &at
		}
		return at, err
	}
}

// ofPiece makes the picture of a piece of a data folder.
func (p *picturing) ofPiece(ctx context.Context, stdout io.Writer) error {
	begun := time.Now()
	s, err := studio.New(p.data, studio.Still)
	if err != nil {
		return err
	}
	defer s.Close()
	piece, err := s.Piece(ctx, p.piece)
	if err != nil {
		return fmt.Errorf("piece %s: %w", p.piece, err)
	}
	if p.scene {
		piece.Recipe.Scene = p.recipe.Scene
	}
	if err := p.settle(&piece.Recipe); err != nil {
		return err
	}
	if p.move != "" {
		at, err := s.Shown(ctx, piece, 0)
		if err == nil {
			err = p.give(&at, &piece.Recipe.Scene)
		}
		if err != nil {
			return err
		}
	}
	from := once(func(frame float64) (stages.Shown, error) { return s.Lit(ctx, piece, frame) })
	return p.shootAll(ctx, p.piece, p.target[0], begun, from, stdout)
}

// shootAll makes one picture, or those of a clip that are not there yet.
func (p *picturing) shootAll(
	ctx context.Context, name, target string, begun time.Time, from func(frame float64) (stages.Shown, error), stdout io.Writer,
) error {
	for n := p.from; n <= p.to; n++ {
		frame, out := p.frame, target
		if p.clip {
			frame, out = float64(n), numbered(target, n)
			if _, err := os.Stat(out); err == nil {
				continue // it was finished before
			}
		}
		at, err := from(frame)
		if err != nil {
			return err
		}
		s := shot{File: name, Out: out, Size: [2]int{p.w, p.h}, BuildMS: ms(begun)}
		if err := p.shoot(ctx, &at, frame, &s); err != nil {
			return err
		}
		if p.stats {
			if err := json.NewEncoder(stdout).Encode(s); err != nil {
				return err
			}
		}
	}
	return nil
}

// numbered puts the number of a frame before the ending of a path.
func numbered(path string, frame int) string {
	ext := filepath.Ext(path)
	return fmt.Sprintf("%s-%05d%s", strings.TrimSuffix(path, ext), frame, ext)
}

// shoot makes one picture: a pure call of what is shown and the frame. It is written whole
// or not at all.
func (p *picturing) shoot(ctx context.Context, at *stages.Shown, frame float64, s *shot) error {
	begun := time.Now()
	e := &stages.Encoding{Format: p.format, Raw: p.raw, Calm: p.calm, Passes: p.passes, Contrast: at.Scene.Contrast}
	film := stages.NewFilm(at, p.w, p.h, uint32(p.seed)+uint32(frame)*7919, e)
	goal, _ := stages.GoalOf(p.quality)
	if p.samples > 0 || p.quality == "" {
		goal.Samples = p.samples
	}
	if goal.Samples == 0 {
		goal.Samples = math.MaxInt32
	}
	var err error
	e.Exposure, err = stages.ExposeTo(ctx, at, frame, film, goal, func(have int, _ float64) bool {
		return have == 0 || p.seconds == 0 || time.Since(begun).Seconds() < p.seconds
	})
	if err != nil {
		return err
	}
	s.Samples, s.Noise, s.TraceMS = film.Samples(), film.Noise(), ms(begun)
	return create(func(w []io.Writer) error { return e.Write(w[0], film, at) }, s.Out)
}

// setMotion works out which frames there are.
func (p *picturing) setMotion(m *recipe.Motion) error {
	if p.frames > 0 {
		m.Frames = p.frames
	}
	if m.Frames == 0 {
		m.Frames = 5 * m.PerSecond()
	}
	p.frames = m.Frames
	if strings.EqualFold(filepath.Ext(p.move), ".json") {
		data, err := os.ReadFile(p.move)
		if err != nil {
			return err
		}
		kept, err := recipe.OpenMove(data)
		if err != nil {
			return fmt.Errorf("%s: %w", p.move, err)
		}
		p.kept = &kept.Motion
	} else if p.move != "" {
		if err := terms.Pick("move").Check(p.move); err != nil {
			return err
		}
	}
	if !p.clip {
		p.from, p.to = 0, 0
		return nil
	}
	if p.to < 0 {
		p.to = m.Frames - 1
	}
	if p.from < 0 || p.from > p.to || p.to >= m.Frames {
		return fmt.Errorf("the clip has the frames 0 to %d, not %d to %d", m.Frames-1, p.from, p.to)
	}
	return nil
}
