package reader_test

import (
	"errors"
	"os"
	"strings"
	"sync"
	"testing"

	"bildhauer/core/read"
	"bildhauer/reader"
)

// TestBattery gives readers files that try to hurt them, in every way in which their work can
// grow: each is answered with a sheet or a sentence that names it and says what to do, by a
// reader that keeps to its limits, and none is a mistake of ours. make battery takes all of
// them, the usual tests every ninetieth.
func TestBattery(t *testing.T) {
	files := battery()
	if len(files) < 150 {
		t.Fatalf("only %d files", len(files))
	}
	every := 120 // make battery has all
	if os.Getenv("BILDHAUER_BATTERY") != "" {
		every = 1
	}
	p := reader.New()
	defer p.Close()
	var wg sync.WaitGroup
	work := make(chan hostile)
	for range 2 {
		wg.Go(func() {
			for f := range work {
				answered(t, p, f)
			}
		})
	}
	for i, f := range files {
		if i%every == 0 {
			work <- f
		}
	}
	close(work)
	wg.Wait()
}

func answered(t *testing.T, p *reader.Pool, f hostile) {
	s, err := p.Sheet(t.Context(), "gift.svg", f.Data, read.Options{})
	if err == nil {
		if len(s.Shapes) == 0 {
			t.Errorf("%s is a sheet without shapes", f.Name)
		}
		return
	}
	var no *read.Refusal
	switch text := err.Error(); {
	case !errors.As(err, &no):
		t.Errorf("%s: %v is no refusal", f.Name, err)
	case no.Bug != nil:
		t.Errorf("%s: a mistake: %v", f.Name, no.Bug)
	case !strings.HasPrefix(text, "gift.svg ") || len(text) > 400 || strings.Contains(text, "panic"):
		t.Errorf("%s: says %q", f.Name, text)
	}
}

// TestCutOffAndChanged cuts our own drawings off and changes bytes of them: never worse than a
// sentence. make battery takes 200 changes of each and cuts at every percent.
func TestCutOffAndChanged(t *testing.T) {
	changes, cuts := 12, 9
	if os.Getenv("BILDHAUER_BATTERY") != "" {
		changes, cuts = 200, 100
	}
	p := reader.New()
	defer p.Close()
	seed := uint32(7)
	next := func(n int) int {
		seed = seed*1664525 + 1013904223
		return int(seed>>8) % n
	}
	for _, name := range []string{"compass-badge.svg", "tide-clock.svg", "gull-crest.eps", "pier-key-tag.ai", "rope-mark.ai"} {
		whole, err := os.ReadFile("../demo/" + name)
		if err != nil {
			t.Fatal(err)
		}
		try := func(what string, data []byte) {
			if _, err := p.Sheet(t.Context(), name, data, read.Options{}); err != nil {
				var no *read.Refusal
				if !errors.As(err, &no) || no.Bug != nil || !strings.HasPrefix(no.Text, name) {
					t.Errorf("%s %s: %v, %v", name, what, err, no)
				}
			}
		}
		for i := range cuts {
			try("cut off", whole[:len(whole)*(i+1)/(cuts+1)])
		}
		for range changes {
			data := append([]byte(nil), whole...)
			for range 1 + next(4) {
				switch at := next(len(data)); next(3) {
				case 0:
					data[at] = byte(next(256))
				case 1:
					data[at] ^= 1 << next(8)
				default:
					n := min(next(40), len(data)-at)
					data = append(data[:at], data[at+n:]...)
				}
			}
			try("changed", data)
		}
	}
}
