//go:build unix

// Package worktime measures how much work a test causes. The clock on the
// wall counts what else the machine does, too, and makes tests fail one time
// in fifty.
package worktime

import (
	"syscall"
	"time"
)

// Spent returns the processor time that this process has spent on its own
// code so far, on all cores together.
func Spent() time.Duration {
	var u syscall.Rusage
	if err := syscall.Getrusage(syscall.RUSAGE_SELF, &u); err != nil {
		panic(err)
	}
	return time.Duration(u.Utime.Nano())
}
