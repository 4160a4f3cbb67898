package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/spf13/cobra"

	"bildhauer/core/parallel"
)

const plate = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect width="40" height="20" fill="#336699"/>` +
	`<circle cx="9" cy="9" r="4" fill="#a33333"/></svg>`

// put writes files and returns their paths.
func put(t *testing.T, dir string, files map[string]string) {
	t.Helper()
	for name, text := range files {
		path := filepath.Join(dir, name)
		if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(path, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
	}
}

func contents(t *testing.T, path string) string {
	t.Helper()
	data, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	return string(data)
}

// left lists what is in a folder, temporary files too.
func left(t *testing.T, dir string) []string {
	t.Helper()
	var out []string
	filepath.Walk(dir, func(path string, st os.FileInfo, err error) error {
		if err == nil && !st.IsDir() {
			rel, _ := filepath.Rel(dir, path)
			out = append(out, filepath.ToSlash(rel))
		}
		return nil
	})
	slices.Sort(out)
	return out
}

// TestNothingIsWrittenOver gives files of one name, and results that would
// take the place of what is read.
func TestNothingIsWrittenOver(t *testing.T) {
	dir := t.TempDir()
	put(
		t,
		dir,
		map[string]string{"a/logo.svg": plate, "b/logo.svg": plate, "c/LOGO.svg": plate, "logo-2.svg": plate},
	)
	in := func(names ...string) []string {
		for i := range names {
			names[i] = filepath.Join(dir, names[i])
		}
		return names
	}
	code, _, errs := call(
		t,
		append(
			[]string{"make", "-d", filepath.Join(dir, "out")},
			in("a/logo.svg", "b/logo.svg", "c/LOGO.svg", "logo-2.svg")...)...)
	if got := left(t, filepath.Join(dir, "out")); code != 0 ||
		fmt.Sprint(got) != "[LOGO-3.stl logo-2-2.stl logo-2.stl logo.stl]" {
		t.Errorf("%d: %v %s", code, got, errs)
	}
	// The cleaned file lies beside the one it comes from, numbered.
	code, _, errs = call(t, append([]string{"clean", "-d", filepath.Join(dir, "a")}, in("a/logo.svg")...)...)
	if code != 0 || contents(t, filepath.Join(dir, "a/logo.svg")) != plate ||
		!strings.Contains(contents(t, filepath.Join(dir, "a/logo-2.svg")), "<path") {
		t.Errorf("%d: %s", code, errs)
	}
	// -o onto the input, by its name, by another name for it, and by a link.
	if err := os.Symlink(filepath.Join(dir, "a/logo.svg"), filepath.Join(dir, "link.svg")); err != nil {
		t.Fatal(err)
	}
	for _, out := range []string{"a/logo.svg", "a/../a/logo.svg", "link.svg"} {
		code, _, errs := call(t, "clean", filepath.Join(dir, "a/logo.svg"), "-o", filepath.Join(dir, out))
		if code != 2 || !strings.Contains(errs, "would be written over") ||
			contents(t, filepath.Join(dir, "a/logo.svg")) != plate {
			t.Errorf("-o %s: %d %s", out, code, errs)
		}
	}
	// OBJ and its materials need two names.
	code, _, errs = call(
		t,
		"make",
		filepath.Join(dir, "a/logo.svg"),
		"-o",
		filepath.Join(dir, "o.mtl"),
		"--format",
		"obj",
	)
	if code != 2 || !strings.Contains(errs, "materials of an OBJ file") {
		t.Errorf("o.mtl: %d %s", code, errs)
	}
}

// TestSpecialTargets writes through links and into devices, and leaves
// protected files and folders alone.
func TestSpecialTargets(t *testing.T) {
	if runtime.GOOS == "windows" {
		t.Skip("no links and devices")
	}
	dir := t.TempDir()
	put(t, dir, map[string]string{"plate.svg": plate, "real/old.stl": "old", "locked.stl": "mine"})
	in := filepath.Join(dir, "plate.svg")
	link := filepath.Join(dir, "link.stl")
	if err := os.Symlink(filepath.Join("real", "old.stl"), link); err != nil {
		t.Fatal(err)
	}
	if code, _, errs := call(t, "make", in, "-o", link); code != 0 {
		t.Fatalf("a link: %s", errs)
	}
	if st, err := os.Lstat(link); err != nil || st.Mode()&os.ModeSymlink == 0 {
		t.Error("the link was replaced")
	}
	if got := contents(t, filepath.Join(dir, "real/old.stl")); !strings.HasPrefix(got, "Bildhauer") {
		t.Errorf("behind the link is %.20q", got)
	}
	if code, _, errs := call(t, "make", in, "-o", os.DevNull, "--format", "stl"); code != 0 {
		t.Errorf("a device: %s", errs)
	}
	if st, err := os.Stat(os.DevNull); err != nil || st.Mode().IsRegular() {
		t.Fatal("the device was replaced")
	}
	if err := os.Chmod(filepath.Join(dir, "locked.stl"), 0o444); err != nil {
		t.Fatal(err)
	}
	code, _, errs := call(t, "make", in, "-o", filepath.Join(dir, "locked.stl"))
	if code != 1 || !strings.Contains(errs, "protected against writing") ||
		contents(t, filepath.Join(dir, "locked.stl")) != "mine" {
		t.Errorf("a protected file: %d %s", code, errs)
	}
	if code, _, errs := call(t, "make", in, "-o", filepath.Join(dir, "real"), "--format", "stl"); code != 1 ||
		!strings.Contains(errs, "is a folder") {
		t.Errorf("a folder: %d %s", code, errs)
	}
	// The mode of what is replaced stays.
	if err := os.Chmod(filepath.Join(dir, "real/old.stl"), 0o640); err != nil {
		t.Fatal(err)
	}
	call(t, "make", in, "-o", filepath.Join(dir, "real/old.stl"))
	if st, _ := os.Stat(filepath.Join(dir, "real/old.stl")); st.Mode().Perm() != 0o640 {
		t.Errorf("the mode became %v", st.Mode())
	}
	if code, _, errs := call(t, "make", in, "-o", filepath.Join(in, "x.stl")); code != 1 ||
		!strings.Contains(errs, "can't be written") {
		t.Errorf("below a file: %d %s", code, errs)
	}
}

// TestFullDiskLeavesNothing writes to a disk without room.
func TestFullDiskLeavesNothing(t *testing.T) {
	if _, err := os.Stat("/dev/full"); err != nil {
		t.Skip("no full device here")
	}
	for _, format := range []string{"stl", "glb", "obj"} {
		code, _, errs := call(t, "make", badge, "-o", "/dev/full", "--format", format)
		if code != 1 || !strings.Contains(errs, "no space left on device") ||
			!strings.Contains(errs, "/dev/full can't be written") {
			t.Errorf("%s: %d %s", format, code, errs)
		}
	}
	if code, _, errs := call(t, "clean", badge, "-o", "/dev/full"); code != 1 ||
		!strings.Contains(errs, "no space left") {
		t.Errorf("clean: %d %s", code, errs)
	}
	// Of two files of which the second fails, none is left.
	dir := t.TempDir()
	err := create(func(w []io.Writer) error {
		io.WriteString(w[0], "first")
		io.WriteString(w[1], "second")
		return errors.New("broken off")
	}, filepath.Join(dir, "a"), filepath.Join(dir, "b"))
	if err == nil || len(left(t, dir)) != 0 {
		t.Errorf("%v left %v", err, left(t, dir))
	}
}

// TestInterrupted stops at once and leaves nothing half written.
func TestInterrupted(t *testing.T) {
	dir := t.TempDir()
	var files []string
	for i := range 60 {
		name := fmt.Sprintf("in/n%02d.svg", i)
		put(t, dir, map[string]string{name: contents(t, clock)})
		files = append(files, filepath.Join(dir, name))
	}
	out := filepath.Join(dir, "out")
	ctx, cancel := context.WithCancel(t.Context())
	go func() {
		for len(left(t, out)) < 3 {
			time.Sleep(time.Millisecond)
		}
		cancel()
	}()
	var stdout, stderr bytes.Buffer
	code := run(ctx, append([]string{"make", "-d", out, "--stats"}, files...), &stdout, &stderr)
	if code != 1 || stderr.String() != "bildhauer: interrupted; nothing half written is left\n" {
		t.Errorf("%d %s", code, stderr.String())
	}
	made := left(t, out)
	if len(made) >= 60 {
		t.Error("it was not interrupted")
	}
	for _, name := range made {
		if data := contents(t, filepath.Join(out, name)); strings.HasPrefix(name, ".") ||
			len(data) != 84+50*int(uint32(data[80])|uint32(data[81])<<8|uint32(data[82])<<16) {
			t.Errorf("%s is half written", name)
		}
	}
}

// TestOrderOfManyFiles prints what is said of each in the order of the files,
// whichever is done first.
func TestOrderOfManyFiles(t *testing.T) {
	dir := t.TempDir()
	args := []string{"make", "-d", filepath.Join(dir, "out"), "--stats"}
	var want []string
	for i := range 30 {
		path := filepath.Join(dir, fmt.Sprintf("n%d.svg", i))
		text := plate
		if i%3 == 0 {
			text = contents(t, clock)
		}
		if i%7 == 3 {
			text = "<svg"
		} else {
			want = append(want, path)
		}
		put(t, dir, map[string]string{fmt.Sprintf("n%d.svg", i): text})
		args = append(args, path)
	}
	code, out, errs := call(t, args...)
	var got []string
	for _, l := range strings.Split(strings.TrimSpace(out), "\n") {
		var s stats
		if err := json.Unmarshal([]byte(l), &s); err != nil {
			t.Fatal(err)
		}
		got = append(got, s.File)
	}
	if code != 1 || !slices.Equal(got, want) {
		t.Errorf("%d: %v", code, got)
	}
	at := -1
	for i := 3; i < 30; i += 7 {
		next := strings.Index(errs, fmt.Sprintf("n%d.svg is damaged", i))
		if next <= at {
			t.Errorf("n%d.svg is not named in its place:\n%s", i, errs)
		}
		at = next
	}
}

// TestMistakeEndsOneFileOnly says which, in the user's words, and goes on.
func TestMistakeEndsOneFileOnly(t *testing.T) {
	var done atomic.Int32
	var out, errs strings.Builder
	c := &cobra.Command{}
	c.SetContext(t.Context())
	c.SetOut(&out)
	c.SetErr(&errs)
	err := each(c, []string{"a.svg", "b.svg", "c.svg"}, func(_ context.Context, j job) error {
		if j.path == "b.svg" {
			return parallel.Each(4, func(i int) error { panic("index out of range") })
		}
		done.Add(1)
		return nil
	})
	if err != errSome || done.Load() != 2 {
		t.Errorf("%v, %d of 2 files were done", err, done.Load())
	}
	if said := errs.String(); !strings.HasPrefix(said, "bildhauer: b.svg hit a mistake") || strings.Count(said, "\n") > 1 {
		t.Errorf("said %q", said)
	}
}

// TestWrongUsage says what is wrong, in a line, and touches nothing.
func TestWrongUsage(t *testing.T) {
	dir := t.TempDir()
	put(
		t,
		dir,
		map[string]string{
			"plate.svg": plate,
			"two.json":  `{"version":2,"colour":1}`,
			"new.json":  `{"version":9}`,
			"old.json":  `{"parts":{"#336699":{"depth":3}}}`,
		},
	)
	in, out := filepath.Join(dir, "plate.svg"), filepath.Join(dir, "out.stl")
	for want, args := range map[string][]string{
		"must be between 1 and 32":            {"make", in, "-o", out, "--segments", "0"},
		"number of segments":                  {"make", in, "-o", out, "--segments=99"},
		"The width must be between":           {"make", in, "-o", out, "--width", "0"},
		"is not a length":                     {"make", in, "-o", out, "--depth", "deep"},
		`The profile can be`:                  {"make", in, "-o", out, "--profile", "spiky"},
		"flat or bevel":                       {"make", in, "-o", out, "--back", "hollow"},
		"cut or keep":                         {"make", in, "-o", out, "--overlap", "melt"},
		`a field "colour" that is not known`:  {"make", in, "-o", out, "--recipe", filepath.Join(dir, "two.json")},
		"newer Bildhauer (version 9":          {"make", in, "-o", out, "--recipe", filepath.Join(dir, "new.json")},
		"no.json can't be read: no such file": {"make", in, "-o", out, "--recipe", filepath.Join(dir, "no.json")},
		`the format "dwg" is not known`:       {"make", in, "-o", filepath.Join(dir, "out.dwg")},
		"make needs either -o OUT or -d DIR":  {"make", in},
		"clean needs either":                  {"clean", in, "-o", out, "-d", dir},
		"several files need -d DIR":           {"make", in, badge, "-o", out},
		"--tolerance takes 1e-05px to 100px":  {"clean", in, "-o", filepath.Join(dir, "c.svg"), "--tolerance", "0"},
		"inspect: no file given":              {"inspect"},
		`no command "carve"`:                  {"carve"},
		"serve needs --data DIR":              {"serve"},
		"demo takes no file (x)":              {"demo", "x"},
		"unknown flag: --colour":              {"make", in, "--colour", "red"},
	} {
		code, stdout, errs := call(t, args...)
		if code != 2 || !strings.Contains(errs, want) || stdout != "" {
			t.Errorf("%v: %d %s, want %q", args, code, errs, want)
		}
	}
	if got := left(t, dir); len(got) != 4 {
		t.Errorf("left %v", got)
	}
	if code, _, errs := call(t, "make", in, "-o", out, "--recipe", filepath.Join(dir, "old.json")); code != 0 {
		t.Errorf("a recipe of version 1: %s", errs)
	}
	for want, args := range map[string][]string{
		"plate.svg has no pages; there is no page 3": {"make", in, "-o", out, "--page", "3"},
		"is a folder; name the files in it":          {"inspect", dir},
		"can't be opened: no such file":              {"inspect", filepath.Join(dir, "lost.svg")},
		"is not a font":                              {"inspect", in, "--font", in},
		"x.ttf can't be read: no such file":          {"inspect", in, "--font", filepath.Join(dir, "x.ttf")},
		"every part is excluded by the recipe":       {"make", in, "-o", out, "--recipe", outRecipe(t, dir)},
	} {
		if code, _, errs := call(t, args...); code != 1 || !strings.Contains(errs, want) {
			t.Errorf("%v: %d %s, want %q", args, code, errs, want)
		}
	}
	if code, _, errs := call(t, "inspect", in, "--page", "1"); code != 0 {
		t.Errorf("the first page of a file without pages: %s", errs)
	}
}

func outRecipe(t *testing.T, dir string) string {
	put(t, dir, map[string]string{"out.json": `{"version":2,"parts":{"list":[
		{"id":"a","takes":{"colors":["#336699"]},"out":true},{"id":"b","takes":{"colors":["#a33333"]},"out":true}]}}`})
	return filepath.Join(dir, "out.json")
}

// TestLimitsAreSaid holds that a bevel which the depth does not allow is named
// with what became of it.
func TestLimitsAreSaid(t *testing.T) {
	dir := t.TempDir()
	put(t, dir, map[string]string{"plate.svg": plate})
	in, out := filepath.Join(dir, "plate.svg"), filepath.Join(dir, "out.stl")
	code, stdout, errs := call(
		t,
		"make",
		in,
		"-o",
		out,
		"--depth",
		"3mm",
		"--bevel",
		"1mm",
		"--bevel-height",
		"20m",
		"--stats",
	)
	var s stats
	if err := json.Unmarshal([]byte(stdout), &s); err != nil {
		t.Fatal(err)
	}
	if code != 0 || !strings.Contains(errs, "Blue: the bevel became 3 mm high; the depth allows no more") ||
		s.BevelMM < 2.9 ||
		s.BevelMM >= 3 {
		t.Errorf("%d %s %+v", code, errs, s)
	}
	if _, _, errs := call(t, "make", in, "-o", out, "--depth", "3mm", "--bevel", "1mm"); errs != "" {
		t.Errorf("a bevel that fits: %s", errs)
	}
	// Figures of places left of the page are rounded like the others.
	put(
		t,
		dir,
		map[string]string{"left.svg": strings.Replace(plate, `<circle cx="9"`, `<circle cx="-30.00004"`, 1)},
	)
	_, stdout, _ = call(t, "inspect", filepath.Join(dir, "left.svg"))
	if !strings.Contains(stdout, `"artwork_mm":[-8.9958,0,`) {
		t.Errorf("inspect: %s", stdout)
	}
}
