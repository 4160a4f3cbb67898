package web

import (
	"math"
	"testing"
	"time"
)

// TestAllowances brings files from one address until it may bring no more, waits, and brings more;
// another address is not concerned, nor are requests without files.
func TestAllowances(t *testing.T) {
	a := newAllowance()
	clock := time.Unix(1_900_000_000, 0)
	a.now = func() time.Time { return clock }
	bring := func(address string, bytes int) bool {
		done, say := a.begin(address, true, bytes)
		if (done == nil) != (say != "") {
			t.Fatal("refused without a word, or let in with one")
		}
		if done != nil {
			done()
		}
		return done != nil
	}
	n := 0
	for bring("10.0.0.1", 1000) {
		n++
	}
	if n != int(mostUploads) || !bring("10.0.0.2", 1000) {
		t.Errorf("%d files were let in", n)
	}
	if done, _ := a.begin("10.0.0.1", false, 0); done == nil {
		t.Error("a request without files is refused")
	}
	clock = clock.Add(5 * time.Second)
	for n = 0; bring("10.0.0.1", 1000); n++ {
	}
	if n != 5 {
		t.Errorf("%d files after 5 seconds", n)
	}
	for n = 0; bring("10.0.0.3", 32<<20); n++ {
	}
	if n != 16 {
		t.Errorf("%d files of 32 MB were let in", n)
	}
	// However slowly it comes, disk is bounded by the day.
	brought := 0
	for range 1000 {
		clock = clock.Add(10 * time.Second)
		if bring("10.0.0.5", 32<<20) {
			brought++
		}
	}
	if most := int(math.Floor((mostDisk + 10_000*diskBack) / (32 << 20))); brought < most-1 || brought > most+1 {
		t.Errorf("%d files of 32 MB in 10,000 s, want %d", brought, most)
	}
	clock = clock.Add(24 * time.Hour)
	if !bring("10.0.0.5", 32<<20) {
		t.Error("nothing is let in on the next day")
	}
	var open []func()
	for {
		done, say := a.begin("10.0.0.4", false, 0)
		if done == nil {
			if len(open) != mostAtWork || say == "" {
				t.Errorf("%d at work, %q", len(open), say)
			}
			break
		}
		open = append(open, done)
	}
	open[0]()
	if done, _ := a.begin("10.0.0.4", false, 0); done == nil {
		t.Error("none is let in when one is done")
	}
	for i := range mostRemember + 500 {
		clock = clock.Add(time.Second)
		bring(time.Duration(i).String(), 1)
	}
	if len(a.seen) > mostRemember+1 {
		t.Errorf("%d addresses are remembered", len(a.seen))
	}
}
