//go:build unix

package stages

import (
	"syscall"
	"time"
)

// worked returns how long this process has worked.
func worked() time.Duration {
	var u syscall.Rusage
	syscall.Getrusage(syscall.RUSAGE_SELF, &u)
	return time.Duration(u.Utime.Nano() + u.Stime.Nano())
}
