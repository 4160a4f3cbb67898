package studio

import (
	"archive/zip"
	"context"
	"encoding/json"
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
	"time"

	"bildhauer/core/progress"
	"bildhauer/core/recipe"
	"bildhauer/store"
)

// SeriesFormats lists what the files of a series can become: those of one file each.
var SeriesFormats = []string{"stl", "3mf", "glb", "ply", "usdz", "svg", "dxf", "gcode"}

// SeriesMost is how many files one series takes.
const SeriesMost = 1000

// Bounds of series: how many are kept, what they hold together, and how long one stays after
// its results were fetched.
const (
	mostSeries  = 50
	seriesBytes = 20 << 30
	takenStays  = 24 * time.Hour
)

// SeriesLine is one file of a series.
type SeriesLine struct {
	Name  string `json:"name"`  // of the artwork
	State string `json:"state"` // waiting, running, done, failed or cancelled
	Note  string `json:"note"`  // why it failed
	File  string `json:"file"`  // what came out
	Bytes int64  `json:"bytes"`
}

// Series is many files of artwork, each raised by one recipe and written in one format. It goes on
// after a restart and stays until its results are fetched or it is removed.
type Series struct {
	ID      string
	Recipe  string
	Format  string
	Created time.Time

	dir    string
	base   recipe.Recipe
	cancel context.CancelFunc
	mu     sync.Mutex
	lines  []SeriesLine
	taken  time.Time     // when its results were fetched; zero for not yet
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

// Count adds up how far the files of a series are.
func (x *Series) Count() (ended, done, all int) {
	lines, _ := x.Lines()
	for _, l := range lines {
		if l.State != "waiting" && l.State != "running" {
			ended++
		}
		if l.State == "done" {
			done++
		}
	}
	return ended, done, len(lines)
}

// setLine changes a line, here and in the store. One that can't be kept is worked on once more after
// a restart.
func (s *Studio) setLine(x *Series, i int, f func(l *SeriesLine)) {
	x.mu.Lock()
	f(&x.lines[i])
	row := x.row(i)
	x.mu.Unlock()
	if row.State == "running" {
		return
	}
	if err := s.store.SetSeriesFile(context.WithoutCancel(s.ctx), row); err != nil {
		s.diary.Write("keeping a file of a series", err)
	}
}

func (x *Series) row(i int) store.SeriesFile {
	l := &x.lines[i]
	return store.SeriesFile{SeriesID: x.ID, N: i, Name: l.Name, Made: l.File, State: l.State, Note: l.Note, Bytes: l.Bytes}
}

// series are those that are not removed.
type series struct {
	mu   sync.Mutex
	list []*Series
	wg   sync.WaitGroup
}

func (s *Studio) seriesDir(id string) string { return filepath.Join(s.home, "series", id) }

// StartSeries begins to raise files by a recipe, whose Sheets do not matter.
func (s *Studio) StartSeries(ctx context.Context, files []File, base recipe.Recipe, format string) (*Series, error) {
	switch {
	case !slices.Contains(SeriesFormats, format):
		return nil, input("a series is written as %s", strings.Join(SeriesFormats, ", "))
	case len(files) == 0 || len(files) > SeriesMost:
		return nil, input("a series has 1 to %d files", SeriesMost)
	}
	if err := base.Check(); err != nil {
		return nil, input("%v", err)
	}
	base.Sheets, base.Intake = recipe.Sheets{}, recipe.Intake{}
	doc, err := json.Marshal(base)
	if err != nil {
		return nil, err
	}
	s.series.mu.Lock()
	defer s.series.mu.Unlock()
	s.dropTaken()
	if err := s.roomForSeries(files); err != nil {
		return nil, err
	}
	x := &Series{ID: newID(), Recipe: base.Name, Format: format, Created: time.Now(), base: base, over: make(chan struct{})}
	x.dir = s.seriesDir(x.ID)
	row := store.Series{ID: x.ID, Name: base.Name, Format: format, Doc: doc, CreatedAt: x.Created.UnixMilli()}
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
		row.Files = append(row.Files, x.row(i))
	}
	if err := s.store.AddSeries(ctx, row); err != nil {
		os.RemoveAll(x.dir)
		return nil, err
	}
	s.beginSeries(x)
	return x, nil
}

// roomForSeries refuses files for which there is no room; the lock is held.
func (s *Studio) roomForSeries(files []File) error {
	if len(s.series.list) >= mostSeries {
		return input("there are %d series on the page of all pieces. Fetch or remove some of them first", mostSeries)
	}
	need := int64(0)
	for _, f := range files {
		need += int64(len(f.Data))
	}
	if have := folderBytes(s.seriesDir("")); have+need > seriesBytes {
		return input("series already take %d MB of the %d MB that there are for them. Fetch or remove some of them first",
			have>>20, int64(seriesBytes)>>20)
	}
	return nil
}

// beginSeries begins to work on a series; the lock is held.
func (s *Studio) beginSeries(x *Series) {
	ctx, cancel := context.WithCancel(s.ctx)
	x.cancel = cancel
	s.series.list = append(s.series.list, x)
	s.series.wg.Go(func() { s.runSeries(ctx, x) })
}

// resumeSeries goes on with the series of an earlier run.
func (s *Studio) resumeSeries() error {
	rows, err := s.store.Series(s.ctx)
	if err != nil {
		return err
	}
	s.series.mu.Lock()
	defer s.series.mu.Unlock()
	known := map[string]bool{}
	for _, r := range rows {
		base, err := recipe.Open(r.Doc)
		if err != nil {
			s.diary.Write("going on with a series", err)
			continue
		}
		x := &Series{ID: r.ID, Recipe: r.Name, Format: r.Format, Created: time.UnixMilli(r.CreatedAt), base: base, over: make(chan struct{})}
		x.dir = s.seriesDir(x.ID)
		if r.TakenAt.Valid {
			x.taken = time.UnixMilli(r.TakenAt.Int64)
		}
		for _, f := range r.Files {
			x.lines = append(x.lines, SeriesLine{Name: f.Name, State: f.State, Note: f.Note, File: f.Made, Bytes: f.Bytes})
		}
		known[r.ID] = true
		s.beginSeries(x)
	}
	s.dropTaken()
	list, _ := os.ReadDir(s.seriesDir(""))
	for _, d := range list { // of one that was not kept, or was removed, when the program ended
		if !known[d.Name()] {
			os.RemoveAll(s.seriesDir(d.Name()))
		}
	}
	return nil
}

// dropTaken removes the series that were fetched a day ago; the lock is held.
func (s *Studio) dropTaken() {
	s.series.list = slices.DeleteFunc(s.series.list, func(x *Series) bool {
		x.mu.Lock()
		old := !x.taken.IsZero() && time.Since(x.taken) > takenStays
		x.mu.Unlock()
		return old && s.dropSeries(x) == nil
	})
}

// dropSeries forgets a series and its files.
func (s *Studio) dropSeries(x *Series) error {
	x.cancel()
	if err := s.store.DropSeries(context.WithoutCancel(s.ctx), x.ID); err != nil {
		return err
	}
	return os.RemoveAll(x.dir)
}

// SeriesList returns the series that work or wait to be fetched, the latest first.
func (s *Studio) SeriesList() []*Series {
	s.series.mu.Lock()
	defer s.series.mu.Unlock()
	var out []*Series
	for _, x := range slices.Backward(s.series.list) {
		x.mu.Lock()
		if x.taken.IsZero() {
			out = append(out, x)
		}
		x.mu.Unlock()
	}
	return out
}

// RemoveSeries ends a series and removes what there is of it.
func (s *Studio) RemoveSeries(id string) error {
	x, err := s.SeriesOf(id)
	if err != nil {
		return err
	}
	x.cancel()
	<-x.over
	s.series.mu.Lock()
	defer s.series.mu.Unlock()
	if err := s.dropSeries(x); err != nil {
		return err
	}
	s.series.list = slices.DeleteFunc(s.series.list, func(o *Series) bool { return o == x })
	return nil
}

// TakenSeries remembers that the results were fetched: the series stays a day longer.
func (s *Studio) TakenSeries(x *Series) {
	x.mu.Lock()
	first := x.taken.IsZero()
	x.taken = time.Now()
	x.mu.Unlock()
	if err := s.store.TakeSeries(context.WithoutCancel(s.ctx), x.ID); err != nil && first {
		s.diary.Write("keeping that a series was fetched", err)
	}
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
	return nil, input("this series is not there any more: it was removed, or fetched more than a day ago")
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
		if l := &x.lines[i]; l.State == "waiting" || l.State == "running" {
			next <- i
		}
	}
	close(next)
	wg.Wait()
}

// seriesFile raises one file. A mistake of the program ends that file's work only; what the end of
// the program interrupts is begun again when it is started.
func (s *Studio) seriesFile(ctx context.Context, x *Series, i int) {
	end := func(state, note string, bytes int64) {
		s.setLine(x, i, func(l *SeriesLine) { l.State, l.Note, l.Bytes = state, note, bytes })
		os.Remove(x.source(i))
	}
	defer func() {
		if p := recover(); p != nil {
			log.Printf("series: %v\n%s", p, debug.Stack())
			end("failed", "The program made a mistake with this file. Please keep it and tell us about it.", 0)
		}
	}()
	if s.ctx.Err() != nil {
		return
	}
	if ctx.Err() != nil {
		end("cancelled", "", 0)
		return
	}
	s.setLine(x, i, func(l *SeriesLine) { l.State = "running" })
	bytes, err := s.raiseFile(ctx, x, i)
	var in *ErrInput
	switch {
	case s.ctx.Err() != nil:
	case ctx.Err() != nil:
		end("cancelled", "", 0)
	case errors.As(err, &in):
		end("failed", in.Text, 0)
	case err != nil:
		end("failed", sentence(err.Error()), 0)
	default:
		end("done", "", bytes)
	}
}

func (s *Studio) raiseFile(ctx context.Context, x *Series, i int) (int64, error) {
	name := x.lines[i].Name
	r := x.base.Clone()
	r.Name = pieceName(name)
	r.Sheets = recipe.Sheets{List: []recipe.Sheet{{Slot: 1, File: fmt.Sprint(i), Name: name}}}
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
	err = writeWhole(x.result(i), func(f *os.File) error { return copyInto(f, made.Path) })
	if err != nil {
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
