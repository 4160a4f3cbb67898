package studio

import (
	"bufio"
	"encoding/json"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"sync"
	"time"
)

// Diary is where what went wrong inside is written down, each entry under a number that the
// screen shows as well. It lies in the data folder, holds no artwork, and never grows beyond
// two files of a megabyte.
type Diary struct {
	mu   sync.Mutex
	path string
	last int64
	size int64
}

const (
	diaryFile = "diary.jsonl"
	diaryHalf = 1 << 20 // bytes, after which the file becomes the older one of two
	diaryText = 6000    // bytes of what is said about one thing
)

// Entry is a line of the diary.
type Entry struct {
	Number int64     `json:"number"`
	At     time.Time `json:"at"`
	Doing  string    `json:"doing"` // what was asked, without what it was asked with
	Text   string    `json:"text"`
}

func openDiary(dir string) *Diary {
	d := &Diary{path: filepath.Join(dir, diaryFile)}
	for _, path := range []string{d.path + ".old", d.path} {
		entries, size := readDiary(path)
		for _, e := range entries {
			d.last = max(d.last, e.Number)
		}
		d.size = size
	}
	return d
}

// readDiary returns the entries of one file; lines that are no entries, as of a program that was
// ended while it wrote, are passed over.
func readDiary(path string) (out []Entry, size int64) {
	f, err := os.Open(path)
	if err != nil {
		return nil, 0
	}
	defer f.Close()
	lines := bufio.NewScanner(f)
	lines.Buffer(nil, 1<<16)
	for lines.Scan() {
		var e Entry
		size += int64(len(lines.Bytes())) + 1
		if json.Unmarshal(lines.Bytes(), &e) == nil && e.Number > 0 {
			out = append(out, e)
		}
	}
	return out, size
}

// Write adds an entry and returns its number. What can't be written is in the log at least.
func (d *Diary) Write(doing string, err error) int64 {
	d.mu.Lock()
	defer d.mu.Unlock()
	d.last++
	text := fmt.Sprint(err)
	if len(text) > diaryText {
		text = text[:diaryText] + "…"
	}
	e := Entry{d.last, time.Now().UTC().Truncate(time.Millisecond), doing, text}
	slog.Error("went wrong inside", "number", e.Number, "doing", doing, "error", text)
	line, _ := json.Marshal(e)
	line = append(line, '\n')
	if d.size+int64(len(line)) > diaryHalf {
		os.Rename(d.path, d.path+".old")
		d.size = 0
	}
	f, err := os.OpenFile(d.path, os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return e.Number
	}
	n, _ := f.Write(line)
	d.size += int64(n)
	f.Close()
	return e.Number
}

// Entries returns what is in the diary, oldest first.
func (d *Diary) Entries() []Entry {
	d.mu.Lock()
	defer d.mu.Unlock()
	older, _ := readDiary(d.path + ".old")
	newer, _ := readDiary(d.path)
	return append(older, newer...)
}
