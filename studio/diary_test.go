package studio

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
)

// TestDiary writes entries from several sides, opens the diary again, and fills it until it begins
// a new file: numbers go on, nothing is longer than it may be, and a line that was cut off does
// not hide the others.
func TestDiary(t *testing.T) {
	dir := t.TempDir()
	d := openDiary(dir)
	var wg sync.WaitGroup
	for range 20 {
		wg.Go(func() { d.Write("POST /pieces", errors.New("a mistake")) })
	}
	wg.Wait()
	seen := map[int64]bool{}
	for _, e := range d.Entries() {
		seen[e.Number] = true
		if e.Doing != "POST /pieces" || e.Text != "a mistake" || e.At.IsZero() {
			t.Errorf("entry %+v", e)
		}
	}
	if len(seen) != 20 || !seen[20] {
		t.Errorf("%d numbers", len(seen))
	}
	f, _ := os.OpenFile(filepath.Join(dir, diaryFile), os.O_APPEND|os.O_WRONLY, 0)
	f.WriteString(`{"number":21,"at":"20`)
	f.Close()
	d = openDiary(dir)
	if n := d.Write("GET /", errors.New(strings.Repeat("long ", 10_000))); n != 21 {
		t.Errorf("after a line that was cut off the number is %d", n)
	}
	for range 600 {
		d.Write("GET /", errors.New(strings.Repeat("long ", 10_000)))
	}
	for _, name := range []string{diaryFile, diaryFile + ".old"} {
		if st, err := os.Stat(filepath.Join(dir, name)); err != nil || st.Size() > diaryHalf || st.Mode().Perm() != 0o600 {
			t.Errorf("%s: %v, %v", name, st, err)
		}
	}
	all := d.Entries()
	if last := all[len(all)-1]; last.Number != 621 || len(last.Text) > diaryText+10 {
		t.Errorf("the last is %d, %d bytes", last.Number, len(last.Text))
	}
}
