package studio

import (
	"bytes"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/internal/patience"
	"bildhauer/store"
)

// moving makes the square turn over so many frames.
func moving(t *testing.T, s *Studio, frames int) string {
	t.Helper()
	id := made(t, s, File{"sign.svg", []byte(square)})
	if _, err := s.GiveMove(t.Context(), id, Latest, show.Act{Move: "turntable"}, ""); err != nil {
		t.Fatal(err)
	}
	change(t, s, id, "Shorter", &recipe.Retime{Frames: frames, Stretch: true})
	return id
}

func spec(w, h, samples int) OrderSpec {
	return OrderSpec{Shot: Shot{Width: w, Height: h, Samples: samples}}
}

func clipOf(w, h, samples, to int) OrderSpec {
	c := spec(w, h, samples)
	c.Clip, c.To = true, to
	return c
}

func order(t *testing.T, s *Studio, id string, o OrderSpec) string {
	t.Helper()
	made, err := s.Order(t.Context(), piece(t, s, id), o)
	if err != nil {
		t.Fatal(err)
	}
	return made.ID
}

// until waits until an order is in a state that is wanted.
func until(t *testing.T, s *Studio, id, orderID string, want func(Order) bool) Order {
	t.Helper()
	w := s.Watch(id)
	defer w.Close()
	wake, _ := w.Wake()
	end := time.Now().Add(patience.Of(t))
	for {
		list, err := s.Orders(t.Context(), id)
		if err != nil {
			t.Fatal(err)
		}
		for _, o := range list {
			if o.ID == orderID && want(o) {
				return o
			}
		}
		if time.Now().After(end) {
			t.Fatalf("it never came to that: %+v", list)
		}
		select {
		case <-wake:
			w.Take()
		case <-time.After(time.Second): // whatever was told before the window was opened
		case <-t.Context().Done():
			t.Fatal("it never came to that")
		}
	}
}

func in(state string) func(Order) bool { return func(o Order) bool { return o.State == state } }

func files(t *testing.T, s *Studio, id, orderID string) map[string][]byte {
	t.Helper()
	_, paths, err := s.OrderFiles(t.Context(), id, orderID)
	if err != nil {
		t.Fatal(err)
	}
	out := map[string][]byte{}
	for _, p := range paths {
		data, err := os.ReadFile(p)
		if err != nil {
			t.Fatal(err)
		}
		out[filepath.Base(p)] = data
	}
	return out
}

// TestClipsGoOn makes a clip in one go, and one that is stopped, goes on, and lives through
// a restart: both have the same frames. What is changed meanwhile changes neither.
func TestClipsGoOn(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	id := moving(t, s, 6)
	whole := order(t, s, id, clipOf(40, 24, 8, 5))
	parts := order(t, s, id, clipOf(40, 24, 8, 5))
	color := "#ff0000"
	change(t, s, id, "Red", &recipe.PaintFaces{Material: &recipe.Material{Color: color, Rough: 1}})
	until(t, s, id, whole, in(Done))
	until(t, s, id, parts, func(o Order) bool { return o.Done >= 2 })
	if err := s.StopOrder(t.Context(), id, parts); err != nil {
		t.Fatal(err)
	}
	o := until(t, s, id, parts, func(o Order) bool { return o.State == Stopped || o.State == Done })
	if err := s.ResumeOrder(t.Context(), id, parts); err != nil {
		t.Fatal(err)
	}
	if o.State == Stopped {
		until(t, s, id, parts, func(o Order) bool { return o.State != Stopped })
	}
	s.Close() // in the middle, or not: it goes on
	s = open(t, dir)
	if o = until(t, s, id, parts, in(Done)); o.Done != 6 || o.Bytes == 0 || o.Name != "Sign" {
		t.Errorf("%+v", o)
	}
	want, got := files(t, s, id, whole), files(t, s, id, parts)
	if len(want) != 6 || len(got) != 6 {
		t.Fatalf("%d and %d frames", len(want), len(got))
	}
	for name, data := range want {
		if !bytes.Equal(data, got[name]) {
			t.Errorf("%s differs", name)
		}
	}
	r, err := s.OrderRecipe(t.Context(), id, whole)
	if err != nil || len(r.Scene.Paints) != 0 {
		t.Errorf("the recipe that it came from: %v, %v", r.Scene.Paints, err)
	}
	// Removed, it is gone with its files.
	if err := s.RemoveOrder(t.Context(), id, whole); err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(s.ordersDir(whole)); err == nil {
		t.Error("its files are still there")
	}
	if err := s.StopOrder(t.Context(), id, whole); err == nil || !strings.Contains(err.Error(), "not there any more") {
		t.Errorf("stopped after that: %v", err)
	}
}

// TestAPictureIsKeptAsItIs stops a picture that would take for ever: what there is becomes
// the result.
func TestAPictureIsKeptAsItIs(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"sign.svg", []byte(square)})
	p := order(t, s, id, spec(160, 90, 4000))
	o := until(t, s, id, p, func(o Order) bool { return o.Share > 0.001 })
	if o.State != Running || o.Left <= 0 {
		t.Errorf("%+v", o)
	}
	if err := s.StopOrder(t.Context(), id, p); err != nil {
		t.Fatal(err)
	}
	if o = until(t, s, id, p, in(Done)); !strings.Contains(o.Note, "samples a pixel") {
		t.Errorf("note %q", o.Note)
	}
	img, err := png.Decode(bytes.NewReader(files(t, s, id, p)["picture.png"]))
	if err != nil || img.Bounds().Dx() != 160 {
		t.Errorf("%v %v", img, err)
	}
}

// TestOrdersThatCantBe asks for what there can't be, and lets the disk fill up.
func TestOrdersThatCantBe(t *testing.T) {
	s := open(t, t.TempDir())
	id := moving(t, s, 6)
	for want, o := range map[string]OrderSpec{
		"between 1 and 8192 pixels": spec(9000, 10, 1), "takes": spec(8192, 8192, 1),
		"The clip has the frames 0 to 5": clipOf(10, 10, 1, 6), "between 1 and 4096 samples": spec(10, 10, 0),
		"draft, good or final":        {Shot: Shot{Width: 10, Height: 10, Quality: "splendid"}},
		"Pictures are written as png": {Shot: Shot{Width: 10, Height: 10, Samples: 1}, Format: "gif"},
		"Passes go into an":           {Shot: Shot{Width: 10, Height: 10, Samples: 1}, Passes: true},
	} {
		if _, err := s.Order(t.Context(), piece(t, s, id), o); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", want, err)
		}
	}
	still := made(t, s, File{"sign.svg", []byte(square)})
	if _, err := s.Order(t.Context(), piece(t, s, still), clipOf(10, 10, 1, 0)); err == nil || !strings.Contains(err.Error(), "does not move") {
		t.Errorf("a clip of a still: %v", err)
	}
	if list, _ := s.Orders(t.Context(), id); len(list) != 0 {
		t.Errorf("%d orders were kept", len(list))
	}
	// Nothing can be written where a file stands in place of the folder.
	if err := os.WriteFile(filepath.Join(s.home, "results"), nil, 0o600); err != nil {
		t.Fatal(err)
	}
	p := order(t, s, id, spec(20, 20, 1))
	if o := until(t, s, id, p, in(Failed)); o.Note == "" {
		t.Error("nothing is said")
	}
	os.Remove(filepath.Join(s.home, "results"))
	if err := s.ResumeOrder(t.Context(), id, p); err != nil {
		t.Fatal(err)
	}
	until(t, s, id, p, in(Done))
}

// TestAFullDiskIsSaid makes a clip on a disk of a few hundred kilobytes: finished frames
// stay, and it goes on when there is room.
func TestAFullDiskIsSaid(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	id := moving(t, s, 6)
	small := filepath.Join(dir, "results")
	if err := os.MkdirAll(small, 0o700); err != nil {
		t.Fatal(err)
	}
	if err := exec.Command("mount", "-t", "tmpfs", "-o", "size=64k", "tmpfs", small).Run(); err != nil {
		t.Skip("no small disk can be made here")
	}
	mounted := true
	defer func() {
		if mounted {
			exec.Command("umount", "-l", small).Run()
		}
	}()
	c := order(t, s, id, func() OrderSpec { c := clipOf(80, 80, 1, 5); c.Raw = true; return c }())
	o := until(t, s, id, c, in(Failed))
	if !strings.Contains(o.Note, "disk is full") || o.Done == 0 || o.Done == 6 {
		t.Errorf("%d frames: %q", o.Done, o.Note)
	}
	if n := len(files(t, s, id, c)); n != o.Done {
		t.Errorf("%d files of %d", n, o.Done)
	}
	if err := exec.Command("mount", "-o", "remount,size=4m", small).Run(); err != nil {
		t.Fatal(err)
	}
	if err := s.ResumeOrder(t.Context(), id, c); err != nil {
		t.Fatal(err)
	}
	if o = until(t, s, id, c, in(Done)); o.Done != 6 {
		t.Errorf("%+v", o)
	}
	s.Close()
	exec.Command("umount", small).Run()
	mounted = false
}

// TestKilledInTheMiddle leaves what a killed run leaves, half a frame: it is made again, the
// finished ones are not, and what belongs to no order goes.
func TestKilledInTheMiddle(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	id := moving(t, s, 4)
	c := order(t, s, id, clipOf(24, 16, 1, 3))
	until(t, s, id, c, in(Done))
	want := files(t, s, id, c)
	at := s.ordersDir(c)
	s.Close()
	if err := os.Remove(filepath.Join(at, "frame-00002.png")); err != nil {
		t.Fatal(err)
	}
	os.WriteFile(filepath.Join(at, ".part-1"), []byte("half"), 0o600)
	os.WriteFile(filepath.Join(at, "frame-00001.png"), []byte("as it was"), 0o600)
	os.MkdirAll(filepath.Join(dir, "results", "nobody"), 0o700)
	st, err := store.Open(dir)
	if err != nil {
		t.Fatal(err)
	}
	row, err := st.Order(t.Context(), c)
	if err != nil {
		t.Fatal(err)
	}
	row.State = Running
	if err := st.SetOrder(t.Context(), row); err != nil {
		t.Fatal(err)
	}
	st.Close()
	s = open(t, dir)
	until(t, s, id, c, in(Done))
	got := files(t, s, id, c)
	if !bytes.Equal(got["frame-00002.png"], want["frame-00002.png"]) || string(got["frame-00001.png"]) != "as it was" {
		t.Error("the wrong frames were made")
	}
	list, _ := os.ReadDir(at)
	if len(list) != 4 {
		t.Errorf("%d files are there", len(list))
	}
	if _, err := os.Stat(filepath.Join(dir, "results", "nobody")); err == nil {
		t.Error("a folder without an order is still there")
	}
}

// TestOwnSurroundings takes a panorama, keeps it through undo and refuses what is none.
func TestOwnSurroundings(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"sign.svg", []byte(square)})
	var hdr bytes.Buffer
	hdr.WriteString("#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 2 +X 4\n")
	for range 8 {
		hdr.Write([]byte{128, 64, 32, 130})
	}
	p, err := s.AddSurroundings(t.Context(), id, Latest, File{"quay.hdr", hdr.Bytes()})
	if err != nil || p.Recipe.Scene.Surroundings.Name != "quay.hdr" {
		t.Fatalf("%+v %v", p.Recipe.Scene.Surroundings, err)
	}
	a, err := s.Ambience(t.Context(), p, 0)
	if err != nil {
		t.Fatal(err)
	}
	if top := a.Levels[0].Pix[0]; top[0] < 1.9 || top[0] > 2.1 || top[2] > 0.6 {
		t.Errorf("from above comes %v", top)
	}
	if _, err := s.AddSurroundings(t.Context(), id, Latest, File{"quay.jpg", []byte("JFIF")}); err == nil ||
		!strings.Contains(err.Error(), "quay.jpg is no Radiance HDR picture") {
		t.Errorf("a photo: %v", err)
	}
}

// TestOrdersThatCannotBeKept takes the right to write orders away: it is tried again with longer and
// longer pauses, said on the order and once in the diary, and the order goes on when it can.
func TestOrdersThatCannotBeKept(t *testing.T) {
	s := open(t, t.TempDir())
	id := made(t, s, File{"sign.svg", []byte(square)})
	behind(t, s, `CREATE TRIGGER never BEFORE UPDATE ON orders BEGIN SELECT RAISE(FAIL, 'no'); END`)
	one := order(t, s, id, spec(24, 16, 1))
	o := until(t, s, id, one, func(o Order) bool { return o.Note != "" })
	if o.State != Waiting || !strings.Contains(o.Note, "tried again") {
		t.Errorf("an order that waits: %+v", o)
	}
	// Tries come from a second on: in the first seconds there are few.
	tried := 0
	w := s.Watch(id)
	wake, _ := w.Wake()
	for end := time.After(2 * time.Second); end != nil; {
		select {
		case <-wake:
			w.Take()
			tried++
		case <-end:
			end = nil
		}
	}
	w.Close()
	if tried > 12 {
		t.Errorf("it was told %d times in two seconds", tried)
	}
	if entries, _ := readDiary(filepath.Join(s.home, diaryFile)); len(entries) > 1 {
		t.Errorf("%d entries in the diary", len(entries))
	}
	behind(t, s, `DROP TRIGGER never`)
	if err := s.ResumeOrder(t.Context(), id, one); err != nil {
		t.Fatal(err)
	}
	if o = until(t, s, id, one, in(Done)); o.Note != "" {
		t.Errorf("done: %+v", o)
	}
}

// TestOrdersAreGivenUp takes the right to write away for good: after some tries nobody tries any more,
// which is said, until somebody asks for it.
func TestOrdersAreGivenUp(t *testing.T) {
	first, longest := firstPause, longestPause
	firstPause, longestPause = time.Millisecond, 4*time.Millisecond
	t.Cleanup(func() { firstPause, longestPause = first, longest })
	s := open(t, t.TempDir())
	id := made(t, s, File{"sign.svg", []byte(square)})
	behind(t, s, `CREATE TRIGGER never BEFORE UPDATE ON orders BEGIN SELECT RAISE(FAIL, 'no'); END`)
	one := order(t, s, id, spec(24, 16, 1))
	o := until(t, s, id, one, in(Failed))
	if !strings.Contains(o.Note, "tried for a while") || !strings.Contains(o.Note, "go on") {
		t.Errorf("given up: %q", o.Note)
	}
	noted := func() int { // the first time, and that it was given up
		entries, _ := readDiary(filepath.Join(s.home, diaryFile))
		return len(entries)
	}
	for end := time.Now().Add(patience.Of(t)); noted() < 2 && time.Now().Before(end); {
		time.Sleep(time.Millisecond) // a look; it is written just after it is said
	}
	if n := noted(); n != 2 {
		t.Errorf("%d entries in the diary", n)
	}
	behind(t, s, `DROP TRIGGER never`)
	if err := s.ResumeOrder(t.Context(), id, one); err != nil {
		t.Fatal(err)
	}
	until(t, s, id, one, in(Done))
	if why, _ := s.orders.trouble(); why != "" {
		t.Errorf("it is held against it: %q", why)
	}
	for err, want := range map[error]string{store.ErrFull: "The disk is full", store.ErrReadOnly: "data folder can't be written"} {
		s.orders.hold(err, false)
		if why, _ := s.orders.trouble(); !strings.Contains(why, want) {
			t.Errorf("%v is worded %q", err, why)
		}
		s.orders.free()
	}
}
