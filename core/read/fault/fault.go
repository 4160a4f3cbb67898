// Package fault holds the kind of error that readers return: the rest of a
// sentence that begins with the name of the file.
package fault

import (
	"fmt"

	"bildhauer/core/artwork"
)

// Fault is what is wrong with a file and what to do about it.
type Fault struct {
	Text    string
	Bitmaps int // that the file holds, where it holds nothing else
}

func (f *Fault) Error() string { return "the file " + f.Text }

// New returns a fault with a formatted text, such as "is empty. Save it again".
func New(format string, args ...any) error { return &Fault{Text: fmt.Sprintf(format, args...)} }

// Empty returns the fault of a sheet without shapes: only bitmaps, only things
// that are left out, or what nothing says.
func Empty(s *artwork.Sheet, bitmaps int, nothing string) error {
	switch {
	case bitmaps > 0:
		return &Fault{
			Text: fmt.Sprintf(
				"holds only bitmaps (%d) that can't be traced. Drop the pictures themselves, as PNG or JPEG", bitmaps),
			Bitmaps: bitmaps,
		}
	case len(s.Notes) > 0:
		return New(
			"holds nothing that could become a solid (%s). Convert it to paths and save again",
			s.Gravest(),
		)
	}
	return &Fault{Text: nothing}
}
