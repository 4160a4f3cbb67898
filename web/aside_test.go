package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strings"
	"testing"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/studio"
)

// fragile is a reader that some files break.
type fragile struct{}

func (fragile) Sheet(ctx context.Context, name string, data []byte, o read.Options) (*artwork.Sheet, error) {
	if strings.HasPrefix(name, "crash") {
		return nil, &read.Refusal{Text: name + " breaks the reader; nothing else was harmed", Bug: errors.New("stack of the reader")}
	}
	return read.SheetWith(ctx, name, data, o)
}

func (fragile) Font(context.Context, []byte) error { return nil }

// TestFilesThatBreakAReader brings files that break their reader: a sentence with the number of the
// diary, and the file is kept for a report only when that is wished, while it is at hand.
func TestFilesThatBreakAReader(t *testing.T) {
	dir := t.TempDir()
	s := run(t, dir, false, studio.Reading(fragile{}))
	c := s.client()
	var numbers []int64
	for i := range 5 {
		code, body := c.upload("/pieces", studio.File{Name: fmt.Sprintf("crash %d.svg", i), Data: []byte("poison")})
		var r struct {
			Error string
			Aside int64
		}
		json.Unmarshal([]byte(body), &r)
		if code != 422 || !strings.Contains(r.Error, "breaks the reader") || !strings.Contains(r.Error, fmt.Sprintf("number %d in the diary", r.Aside)) ||
			strings.Contains(body, "stack of the reader") {
			t.Fatalf("%d %s", code, body)
		}
		numbers = append(numbers, r.Aside)
	}
	kept := func() int {
		list, _ := os.ReadDir(dir + "/aside")
		return len(list)
	}
	if kept() != 0 {
		t.Error("files are kept without being asked for")
	}
	for i, want := range []int{422, 422, 200, 200, 200, 422} { // the last three are at hand
		n := numbers[min(i, 4)]
		if code, body := c.post(fmt.Sprintf("/aside/%d", n), "{}"); code != want {
			t.Errorf("file %d: %d %s", i, code, body)
		}
	}
	if kept() != 3 {
		t.Errorf("%d files are kept", kept())
	}
	for _, e := range s.studio.Diary().Entries() {
		if e.Doing != "POST /pieces" || !strings.Contains(e.Text, "stack of the reader") || strings.Contains(e.Text, "poison") {
			t.Errorf("the diary says %+v", e)
		}
	}
	// In the page it is a button of the message.
	w := open(t, s.address+"/")
	w.drop("crash again.svg", "poison")
	w.wait("document.querySelector('.message-line.bad button')?.textContent === 'Save the file for a report'")
	w.click(".message-line.bad button")
	w.wait("document.querySelector('.message-line:not(.bad)')?.textContent.includes('aside')")
	if kept() != 4 {
		t.Errorf("%d files are kept", kept())
	}
}
