package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"image/png"
	"io"
	"math"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/stages"
	"bildhauer/core/write"
)

// picturing is how picture was called.
type picturing struct {
	making
	w, h    int
	samples int
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
}

// pictureMost is the most pixels to a side, and the memory that a picture may take.
const (
	pictureMost  = 8192
	pictureBytes = 4 << 30
)

func makePictures(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	return pictures(ctx, "picture", args, stdout, stderr)
}

func makeFrames(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	return pictures(ctx, "frames", args, stdout, stderr)
}

// pictures is both commands: one picture a file, or a numbered one for each frame.
func pictures(ctx context.Context, name string, args []string, stdout, stderr io.Writer) error {
	fs := newFlags(name, stderr)
	p := &picturing{making: making{read: readFlags(fs), format: "png"}, clip: name == "frames"}
	to := outputs{}
	fs.StringVar(&to.out, "o", "", "")
	fs.StringVar(&to.dir, "d", "", "")
	fs.BoolVar(&p.stats, "stats", false, "")
	decided := p.decisions(fs)
	p.flags(fs)
	files, err := parseFiles(fs, args, stderr)
	if err != nil {
		return err
	}
	if err := to.check(name, len(files), stderr); err != nil {
		return err
	}
	if p.clip && to.dir == "" {
		return wrong(stderr, "frames are several files: give a folder with -d")
	}
	if to.out != "" && strings.EqualFold(filepath.Ext(to.out), ".exr") {
		p.format = "exr"
	}
	if err := p.check(decided); err != nil {
		return wrong(stderr, "%v", err)
	}
	if p.target, err = to.targets(files, p.format); err != nil {
		return wrong(stderr, "%v", err)
	}
	if err := p.read.open(); err != nil {
		return err
	}
	return each(ctx, files, stdout, stderr, p.one)
}

// flags adds those of pictures.
func (p *picturing) flags(fs *flag.FlagSet) {
	p.w, p.h = 960, 0
	fs.Func("size", "", func(v string) error {
		if n, err := fmt.Sscanf(v, "%dx%d", &p.w, &p.h); err != nil || n != 2 {
			return fmt.Errorf("a size is width by height in pixels, as 1920x1080")
		}
		return nil
	})
	fs.IntVar(&p.samples, "samples", 0, "")
	fs.Float64Var(&p.seconds, "seconds", 0, "")
	fs.UintVar(&p.seed, "seed", 1, "")
	fs.BoolVar(&p.raw, "raw", false, "")
	fs.BoolVar(&p.passes, "passes", false, "")
	fs.Float64Var(&p.frame, "frame", 0, "")
	fs.StringVar(&p.move, "move", "", "")
	fs.IntVar(&p.frames, "frames", 0, "")
	fs.IntVar(&p.from, "from", 0, "")
	fs.IntVar(&p.to, "to", -1, "")
	fs.StringVar(&p.format, "format", "png", "")
}

func (p *picturing) check(decided func() error) error {
	if err := decided(); err != nil {
		return err
	}
	if p.format != "png" && p.format != "exr" {
		return fmt.Errorf("a picture is written as png or exr, not %.20q", p.format)
	}
	if p.passes && p.format != "exr" {
		return errors.New("passes go into an exr file")
	}
	if err := p.setMotion(); err != nil {
		return err
	}
	ratio, err := p.recipe.Scene.Camera.Ratio()
	if err != nil {
		return err
	}
	if p.h == 0 {
		p.h = max(1, int(float64(p.w)/ratio+0.5))
	}
	if p.w < 1 || p.h < 1 || p.w > pictureMost || p.h > pictureMost {
		return fmt.Errorf("a picture is between 1 and %d pixels wide and high, not %dx%d", pictureMost, p.w, p.h)
	}
	if need := picture.Bytes(p.w, p.h); need > pictureBytes {
		return fmt.Errorf("a picture of %dx%d takes %d MB of memory, more than the %d MB there may be",
			p.w, p.h, need>>20, pictureBytes>>20)
	}
	switch {
	case p.samples < 0 || p.seconds < 0:
		return errors.New("samples and seconds are not less than 0")
	case p.clip && p.seconds > 0:
		return errors.New("frames are alike by their samples, not by time")
	case p.samples == 0 && p.seconds == 0:
		p.samples = 32
	}
	// The picture decides its aspect, whatever the recipe says.
	p.recipe.Scene.Camera.Aspect = fmt.Sprintf("%d:%d", p.w, p.h)
	return p.recipe.Check()
}

// shot is what picture prints of a file.
type shot struct {
	File    string  `json:"file"`
	Out     string  `json:"out"`
	Size    [2]int  `json:"size"`
	Samples int     `json:"samples"`
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
	line, regions, err := p.regions(ctx, sheet)
	if err != nil {
		return fmt.Errorf("%s: %w", j.path, err)
	}
	bodies, err := line.Bodies(ctx, regions)
	if err != nil {
		return fmt.Errorf("%s: %w", j.path, err)
	}
	if p.move != "" {
		reach := math.Hypot(regions.Width, regions.Height) / 2
		line.Recipe.Scene.Motion.Tracks = show.Move(p.move, recipe.OfPiece, p.frames, reach)
	}
	built := ms(begun)
	for n := p.from; n <= p.to; n++ {
		frame, out := p.frame, p.target[j.n]
		if p.clip {
			frame, out = float64(n), numbered(p.target[j.n], n)
			if _, err := os.Stat(out); err == nil {
				continue // it was finished before
			}
		}
		s := shot{File: j.path, Out: out, Size: [2]int{p.w, p.h}, BuildMS: built}
		if err := p.shoot(ctx, &line.Recipe.Scene, bodies, frame, &s); err != nil {
			return err
		}
		if p.stats {
			if err := json.NewEncoder(j.stdout).Encode(s); err != nil {
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

// shoot makes one picture: a pure call of bodies, scene and frame.
func (p *picturing) shoot(ctx context.Context, sc *recipe.Scene, bodies []stages.ShownBody, frame float64, s *shot) error {
	begun := time.Now()
	scene, exposure := stages.SceneOf(sc, bodies, frame)
	film := picture.NewFilm(p.w, p.h, uint32(p.seed)+uint32(frame)*7919)
	if err := p.expose(ctx, scene, film); err != nil {
		return err
	}
	s.Samples, s.TraceMS = film.Samples(), ms(begun)
	return p.save(s.Out, film, exposure)
}

// setMotion works out which frames there are.
func (p *picturing) setMotion() error {
	m := &p.recipe.Scene.Motion
	if p.frames > 0 {
		m.Frames = p.frames
	}
	if m.Frames == 0 {
		m.Frames = 5 * m.PerSecond()
	}
	if p.frames = m.Frames; p.move != "" && !slices.Contains(show.Moves, p.move) {
		return fmt.Errorf("a move is %s, not %.40q", strings.Join(show.Moves, ", "), p.move)
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

// expose adds samples until there are as many as was asked for, or the time is over.
func (p *picturing) expose(ctx context.Context, s *picture.Scene, f *picture.Film) error {
	begun := time.Now()
	samples := p.samples
	if samples == 0 {
		samples = math.MaxInt32
	}
	return s.Make(ctx, f, samples, func(have int) bool {
		return have == 0 || p.seconds == 0 || time.Since(begun).Seconds() < p.seconds
	})
}

// save writes the picture whole or not at all.
func (p *picturing) save(path string, f *picture.Film, exposure float64) error {
	made := f.Picture()
	if !p.raw {
		made = f.Filtered()
	}
	if p.format == "exr" {
		var channels []write.Channel
		for _, c := range f.Passes(made, p.passes) {
			channels = append(channels, write.Channel{Name: c.Name, Values: c.Values, Float: c.Exact})
		}
		return create(func(w []io.Writer) error { return write.EXR(w[0], f.W, f.H, channels) }, path)
	}
	image := made.Image(picture.ContrastOf(p.recipe.Scene.Contrast), exposure)
	return create(func(w []io.Writer) error { return png.Encode(w[0], image) }, path)
}
