package studio

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"log"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"slices"
	"strings"
	"sync"

	"bildhauer/core/progress"
	"bildhauer/core/recipe"
)

// SeriesFormats lists what the files of a series can become: those of one file each.
var SeriesFormats = []string{"stl", "3mf", "glb", "ply", "usdz", "svg", "dxf", "gcode"}

// SeriesMost is how many files one series takes.
const SeriesMost = 1000

// seriesKept is how many series are remembered; older ones go with their files.
const seriesKept = 8

// SeriesLine is one file of a series.
type SeriesLine struct {
	Name  string `json:"name"`  // of the artwork
	State string `json:"state"` // waiting, running, done, failed or cancelled
	Note  string `json:"note"`  // why it failed
	File  string `json:"file"`  // what came out
	Bytes int64  `json:"bytes"`
}

// Series is many files of artwork, each raised by one recipe and written in one format. It
// lives as long as the program runs.
type Series struct {
	ID     string
	Recipe string
	Format string

	dir    string
	base   recipe.Recipe
	cancel context.CancelFunc
	mu     sync.Mutex
	lines  []SeriesLine
	over   chan struct{} // closed when all have ended
}

// Lines tells how far each file is; over says that all have ended.
func (x *Series) Lines() (lines []SeriesLine, over bool) {
	x.mu.Lock()
	defer x.mu.Unlock()
	select {
	case <-x.over:
		over = true
	default:
	}
	return slices.Clone(x.lines), over
}

func (x *Series) set(i int, f func(l *SeriesLine)) {
	x.mu.Lock()
	defer x.mu.Unlock()
	f(&x.lines[i])
}

// series keeps the last ones.
type series struct {
	mu   sync.Mutex
	list []*Series
	wg   sync.WaitGroup
}

// StartSeries begins to raise files by a recipe, whose Sheets do not matter.
func (s *Studio) StartSeries(files []File, base recipe.Recipe, format string) (*Series, error) {
	switch {
	case !slices.Contains(SeriesFormats, format):
		return nil, input("a series is written as %s", strings.Join(SeriesFormats, ", "))
	case len(files) == 0 || len(files) > SeriesMost:
		return nil, input("a series has 1 to %d files", SeriesMost)
	}
	if err := base.Check(); err != nil {
		return nil, input("%v", err)
	}
	x := &Series{ID: newID(), Recipe: base.Name, Format: format, base: base, over: make(chan struct{})}
	x.dir = filepath.Join(s.dir, "series-"+x.ID)
	if err := os.MkdirAll(x.dir, 0o700); err != nil {
		return nil, err
	}
	used := map[string]bool{}
	for i, f := range files {
		if err := os.WriteFile(x.source(i), f.Data, 0o600); err != nil {
			os.RemoveAll(x.dir)
			return nil, err
		}
		name := cleanName(f.Name)
		x.lines = append(x.lines, SeriesLine{Name: name, State: "waiting", File: unusedName(name, format, used)})
	}
	ctx, cancel := context.WithCancel(s.ctx)
	x.cancel = cancel
	s.series.mu.Lock()
	defer s.series.mu.Unlock()
	s.series.list = append(s.series.list, x)
	for len(s.series.list) > seriesKept {
		old := s.series.list[0]
		old.cancel()
		os.RemoveAll(old.dir)
		s.series.list = s.series.list[1:]
	}
	s.series.wg.Go(func() { s.runSeries(ctx, x) })
	return x, nil
}

// unusedName is the name of a result: that of the artwork with another ending, numbered where
// there is one already; many systems take capitals for small letters.
func unusedName(artwork, format string, used map[string]bool) string {
	base := strings.TrimSuffix(artwork, filepath.Ext(artwork))
	name := base + "." + format
	for k := 2; used[strings.ToLower(name)]; k++ {
		name = fmt.Sprintf("%s-%d.%s", base, k, format)
	}
	used[strings.ToLower(name)] = true
	return name
}

func (x *Series) source(i int) string { return filepath.Join(x.dir, fmt.Sprintf("%d.in", i)) }
func (x *Series) result(i int) string { return filepath.Join(x.dir, fmt.Sprintf("%d.out", i)) }

// SeriesOf returns a series that is remembered.
func (s *Studio) SeriesOf(id string) (*Series, error) {
	s.series.mu.Lock()
	defer s.series.mu.Unlock()
	for _, x := range s.series.list {
		if x.ID == id {
			return x, nil
		}
	}
	return nil, input("this series is not there any more. Drop the files again")
}

// Cancel ends a series; what is done stays.
func (x *Series) Cancel() { x.cancel() }

// runSeries raises as many files at a time as there are processors.
func (s *Studio) runSeries(ctx context.Context, x *Series) {
	defer close(x.over)
	next := make(chan int)
	var wg sync.WaitGroup
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for i := range next {
				s.seriesFile(ctx, x, i)
			}
		})
	}
	for i := range x.lines {
		next <- i
	}
	close(next)
	wg.Wait()
}

// seriesFile raises one file. A mistake of the program ends that file's work only.
func (s *Studio) seriesFile(ctx context.Context, x *Series, i int) {
	defer os.Remove(x.source(i))
	end := func(state, note string) {
		x.set(i, func(l *SeriesLine) { l.State, l.Note = state, note })
	}
	defer func() {
		if p := recover(); p != nil {
			log.Printf("series: %v\n%s", p, debug.Stack())
			end("failed", "The program made a mistake with this file. Please keep it and tell us about it.")
		}
	}()
	if ctx.Err() != nil {
		end("cancelled", "")
		return
	}
	x.set(i, func(l *SeriesLine) { l.State = "running" })
	bytes, err := s.raiseFile(ctx, x, i)
	var in *ErrInput
	switch {
	case ctx.Err() != nil:
		end("cancelled", "")
	case errors.As(err, &in):
		end("failed", in.Text)
	case err != nil:
		end("failed", sentence(err.Error()))
	default:
		x.set(i, func(l *SeriesLine) { l.State, l.Bytes = "done", bytes })
	}
}

func (s *Studio) raiseFile(ctx context.Context, x *Series, i int) (int64, error) {
	name := x.lines[i].Name
	r := x.base.Clone()
	r.Name = pieceName(name)
	r.Sheets = recipe.Sheets{List: []recipe.Sheet{{Slot: 1, File: fmt.Sprint(i), Name: name}}}
	r.Intake = recipe.Intake{}
	p := Piece{ID: "series/" + x.ID, Recipe: r, loose: func(string) ([]byte, error) { return os.ReadFile(x.source(i)) }}
	progress.Set(ctx, name, 0)
	view, err := s.View(ctx, p)
	if err != nil {
		return 0, err
	}
	if view.Problem != nil {
		return 0, input("%s: %s", name, view.Problem.Error())
	}
	made, err := s.Export(ctx, p, x.Format, strings.TrimSuffix(x.lines[i].File, filepath.Ext(x.lines[i].File)))
	if err != nil {
		return 0, err
	}
	if err := copyFile(made.Path, x.result(i)); err != nil {
		return 0, err
	}
	st, err := os.Stat(x.result(i))
	if err != nil {
		return 0, err
	}
	return st.Size(), nil
}

// Zip writes all results that are done, and a list of those that failed.
func (x *Series) Zip(w io.Writer) error {
	lines, _ := x.Lines()
	z := zip.NewWriter(w)
	failures := ""
	for i, l := range lines {
		if l.State == "failed" {
			failures += fmt.Sprintf("%s: %s\n", l.Name, l.Note)
		}
		if l.State != "done" {
			continue
		}
		out, err := z.Create(l.File)
		if err != nil {
			return err
		}
		f, err := os.Open(x.result(i))
		if err != nil {
			return err
		}
		_, err = io.Copy(out, f)
		f.Close()
		if err != nil {
			return err
		}
	}
	if failures != "" {
		out, err := z.Create("failed.txt")
		if err != nil {
			return err
		}
		if _, err := io.WriteString(out, failures); err != nil {
			return err
		}
	}
	return z.Close()
}
