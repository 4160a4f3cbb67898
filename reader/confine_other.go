//go:build !linux

package reader

import "time"

// Where the system has no such limits the budget of a file, and the program that ends readers
// which are late, keep them.
func confine() {}

var begun = time.Now()

func spent() time.Duration { return time.Since(begun) }
