package reader

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"reflect"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/progress"
	"bildhauer/core/read"
	"bildhauer/core/read/font"
	"bildhauer/core/read/trace"
)

// TestMain lets the test program be a reader, and one that does what no reader should.
func TestMain(m *testing.M) {
	if os.Getenv(marker) != "" {
		misbehave = func(name string) {
			switch name {
			case "crash.svg":
				os.Exit(7)
			case "hang.svg":
				for {
				}
			case "eat.svg":
				var all [][]byte
				for {
					b := make([]byte, 1<<20)
					for i := range b {
						b[i] = 1
					}
					all = append(all, b)
				}
			case "dive.svg":
				dive(1)
			}
		}
	}
	Main()
	os.Exit(m.Run())
}

func dive(n int) int { return dive(n+1) + 1 }

func pool(t testing.TB) *Pool {
	p := New()
	t.Cleanup(p.Close)
	return p
}

// TestReadElsewhere reads the readers' feature files and our own drawings in a child and in this
// process: sheets and refusals are the same.
func TestReadElsewhere(t *testing.T) {
	p := pool(t)
	files, _ := filepath.Glob("../core/read/testdata/features/*")
	more, _ := filepath.Glob("../demo/*.*")
	n := 0
	for i, path := range append(files, more...) {
		if strings.HasSuffix(path, ".go") {
			continue
		}
		data, err := os.ReadFile(path)
		if err != nil {
			t.Fatal(err)
		}
		options := []read.Options{{}, {Page: 2}, {Trace: trace.Settings{Pictures: true, By: trace.ByLight}}}
		for _, o := range []read.Options{options[0], options[1+i%2]} {
			want, wantErr := read.SheetWith(t.Context(), path, data, o)
			got, gotErr := p.Sheet(t.Context(), path, data, o)
			if fmt.Sprint(gotErr) != fmt.Sprint(wantErr) {
				t.Errorf("%s: %v, here %v", path, gotErr, wantErr)
			}
			if wantErr != nil {
				continue
			}
			if !bytes.Equal(got.Pack(), want.Pack()) {
				t.Errorf("%s: the sheet is another", path)
			}
			n++
		}
	}
	if n < 60 {
		t.Errorf("only %d sheets", n)
	}
	for _, data := range [][]byte{nil, []byte("no artwork"), make([]byte, read.MaxBytes+1)} {
		_, want := read.SheetWith(t.Context(), "x", data, read.Options{})
		if _, got := p.Sheet(t.Context(), "x", data, read.Options{}); fmt.Sprint(got) != fmt.Sprint(want) {
			t.Errorf("%d bytes: %v, here %v", len(data), got, want)
		}
	}
}

// TestFontsGoAlong reads a text in a font that was added, and tries fonts.
func TestFontsGoAlong(t *testing.T) {
	p := pool(t)
	woff, err := os.ReadFile("../core/read/font/shipped/pacifico-latin-400-normal.woff")
	if err != nil {
		t.Fatal(err)
	}
	face, err := font.ParseFace(woff)
	if err != nil {
		t.Fatal(err)
	}
	face.Added = true
	doc := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="90" height="40"><text y="30" font-size="30" font-family="Pacifico">Pier</text></svg>`)
	o := read.Options{Fonts: &font.Library{Added: []*font.Face{face}}}
	want, _ := read.SheetWith(t.Context(), "a.svg", doc, o)
	got, err := p.Sheet(t.Context(), "a.svg", doc, o)
	if err != nil || !reflect.DeepEqual(got.Shapes, want.Shapes) || len(got.Notes) != 0 {
		t.Errorf("text in an added font: %v, %+v", err, got)
	}
	if err := p.Font(t.Context(), woff); err != nil {
		t.Errorf("a font: %v", err)
	}
	for _, bad := range [][]byte{[]byte("no font"), woff[:len(woff)/2]} {
		if err := p.Font(t.Context(), bad); err == nil || !strings.HasPrefix(err.Error(), "is ") {
			t.Errorf("no font: %v", err)
		}
	}
}

// TestAReaderMayDie gives readers files that end them in every way: each gets a sentence, and
// the next file is read as if nothing had been.
func TestAReaderMayDie(t *testing.T) {
	if runtime.GOOS != "linux" {
		t.Skip("the system sets no limits here")
	}
	p := pool(t)
	doc := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="2" height="2"/></svg>`)
	for name, want := range map[string]string{
		"crash.svg": "breaks the reader",
		"hang.svg":  "takes longer to read than a drawing should",
		"eat.svg":   "needs more memory to be read than a drawing should (850 MB)",
		"dive.svg":  "nests its objects deeper than can be read",
	} {
		_, err := p.Sheet(t.Context(), name, doc, read.Options{}) // its work is bounded by the system
		var no *read.Refusal
		told := errors.As(err, &no) && strings.HasPrefix(no.Text, name+" ")
		if told && name == "dive.svg" && strings.Contains(no.Text, "takes longer") {
			continue // where much else is at work, its time may be over before its stack is
		}
		if !told || !strings.Contains(no.Text, want) {
			t.Errorf("%s: %v", name, err)
		}
		if mistake := no != nil && no.Bug != nil; mistake != (name == "crash.svg" || name == "dive.svg") {
			t.Errorf("%s: counts as a mistake: %v", name, mistake)
		}
		if s, err := p.Sheet(t.Context(), "a.svg", doc, read.Options{}); err != nil || len(s.Shapes) != 1 {
			t.Errorf("after %s: %v", name, err)
		}
	}
}

// TestNobodyWaits ends a reading whose caller has left; its reader is not kept waiting.
func TestNobodyWaits(t *testing.T) {
	p := pool(t)
	ctx, cancel := context.WithCancel(t.Context())
	done := make(chan error, 1)
	go func() {
		_, err := p.Sheet(ctx, "hang.svg", []byte(`<svg/>`), read.Options{})
		done <- err
	}()
	cancel()
	if err := <-done; !errors.Is(err, context.Canceled) {
		t.Errorf("ended with %v", err)
	}
}

// TestNobodyTakesAllPlaces lets one bring files that hang, more than there are readers: another's
// file is read before theirs are through, and nobody is remembered afterwards.
func TestNobodyTakesAllPlaces(t *testing.T) {
	p := pool(t)
	doc := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="2" height="2"/></svg>`)
	var wg sync.WaitGroup
	var through atomic.Int64
	files := 2 * cap(p.room)
	ctx, leave := context.WithCancel(t.Context())
	defer leave()
	for range files {
		wg.Go(func() {
			p.Sheet(progress.For(ctx, "10.0.0.1"), "hang.svg", doc, read.Options{})
			through.Add(1)
		})
	}
	waiting := func() bool {
		p.mu.Lock()
		defer p.mu.Unlock()
		return p.asking["10.0.0.1"] != nil && p.asking["10.0.0.1"].files == files
	}
	for !waiting() && through.Load() == 0 {
		time.Sleep(time.Millisecond)
	}
	if _, err := p.Sheet(progress.For(t.Context(), "10.0.0.2"), "mine.svg", doc, read.Options{}); err != nil {
		t.Error(err)
	}
	if n := through.Load(); n > 0 && n >= int64(cap(p.room)) {
		t.Errorf("%d files of another were read first", n)
	}
	leave() // nobody waits for the others
	wg.Wait()
	if len(p.asking) != 0 || len(p.room) != 0 {
		t.Errorf("%d are remembered, %d places are taken", len(p.asking), len(p.room))
	}
}

// TestManyAtOnce reads more files at a time than there are readers, some of which end theirs.
func TestManyAtOnce(t *testing.T) {
	p := pool(t)
	doc := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="2" height="2"/></svg>`)
	var wg sync.WaitGroup
	for i := range 60 {
		wg.Go(func() {
			name := fmt.Sprintf("a%d.svg", i)
			if i%10 == 9 {
				name = "crash.svg"
			}
			s, err := p.Sheet(t.Context(), name, doc, read.Options{})
			if (err != nil) != (name == "crash.svg") || err == nil && (s.Name != name || len(s.Shapes) != 1) {
				t.Errorf("%s: %v", name, err)
			}
		})
	}
	wg.Wait()
}

// TestAnswers reads answers that are cut off, too long, or of nobody.
func TestAnswers(t *testing.T) {
	var b bytes.Buffer
	sendAnswer(&b, sheet, []byte("body"))
	whole := b.Bytes()
	for i := range whole {
		if _, _, err := readAnswer(bytes.NewReader(whole[:i])); err == nil {
			t.Errorf("%d bytes of an answer are taken", i)
		}
	}
	if _, _, err := readAnswer(bytes.NewReader([]byte{'s', 255, 255, 255, 255})); !errors.Is(err, errWire) {
		t.Errorf("4 GB: %v", err)
	}
	if _, _, err := readRequest(strings.NewReader("")); err != io.EOF {
		t.Errorf("no more requests: %v", err)
	}
}

// BenchmarkElsewhere and BenchmarkHere read an ordinary drawing.
func BenchmarkElsewhere(b *testing.B) {
	p := pool(b)
	bench(b, p.Sheet)
}

func BenchmarkHere(b *testing.B) { bench(b, read.SheetWith) }

func bench(b *testing.B, f func(context.Context, string, []byte, read.Options) (*artwork.Sheet, error)) {
	data, err := os.ReadFile("../demo/tide-clock.svg")
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := f(b.Context(), "tide-clock.svg", data, read.Options{}); err != nil {
			b.Fatal(err)
		}
	}
}
