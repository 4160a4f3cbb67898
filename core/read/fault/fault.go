// Package fault holds the kind of error that readers return: the rest of a
// sentence that begins with the name of the file.
package fault

import "fmt"

// Fault is what is wrong with a file and what to do about it.
type Fault struct{ Text string }

func (f *Fault) Error() string { return "the file " + f.Text }

// New returns a fault with a formatted text, such as "is empty. Save it again".
func New(format string, args ...any) error { return &Fault{fmt.Sprintf(format, args...)} }
