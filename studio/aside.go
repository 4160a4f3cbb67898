package studio

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
)

// aside holds the last files that broke a reader for a while, so that whoever brought one can have
// it kept for a report; only then is it written down.
type aside struct {
	mu   sync.Mutex
	held []heldFile
}

type heldFile struct {
	number int64 // in the diary
	files  []File
}

// How many files are held in memory, and how many are kept in the folder.
const (
	mostHeld      = 3
	mostHeldBytes = 48 << 20
	mostAside     = 20
	asideFolder   = "aside"
)

// Hold holds the files of a request that went wrong under the number of its diary entry.
func (s *Studio) Hold(number int64, files []File) {
	size := 0
	for _, f := range files {
		size += len(f.Data)
	}
	if size == 0 || size > mostHeldBytes {
		return
	}
	s.aside.mu.Lock()
	defer s.aside.mu.Unlock()
	s.aside.held = append(s.aside.held, heldFile{number, files})
	total := 0
	for i := len(s.aside.held) - 1; i >= 0; i-- { // the newest stay
		for _, f := range s.aside.held[i].files {
			total += len(f.Data)
		}
		if total > mostHeldBytes || len(s.aside.held)-i > mostHeld {
			s.aside.held = slices.Clone(s.aside.held[i+1:])
			break
		}
	}
}

// KeepAside writes the files that are held under a number into the folder aside, for a report, and
// returns where they are.
func (s *Studio) KeepAside(number int64) (string, error) {
	s.aside.mu.Lock()
	defer s.aside.mu.Unlock()
	i := slices.IndexFunc(s.aside.held, func(h heldFile) bool { return h.number == number })
	if i < 0 {
		return "", input("that file is not at hand any more. Bring it once more")
	}
	dir := filepath.Join(s.home, asideFolder)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return "", err
	}
	if list, _ := os.ReadDir(dir); len(list) >= mostAside {
		return "", input("the folder %s holds %d files already. Send them on and empty it first", dir, len(list))
	}
	var last string
	for _, f := range s.aside.held[i].files {
		name := strings.Map(func(r rune) rune {
			if r == '/' || r == '\\' || r < ' ' {
				return '_'
			}
			return r
		}, cleanName(f.Name))
		last = filepath.Join(dir, fmt.Sprintf("%d-%s", number, name))
		if err := os.WriteFile(last, f.Data, 0o600); err != nil {
			os.Remove(last)
			return "", err
		}
	}
	s.aside.held = slices.Delete(s.aside.held, i, i+1)
	return last, nil
}
