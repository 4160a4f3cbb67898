//go:build unix

package reader

import (
	"os"
	"runtime"
	"syscall"
)

// peakOf returns the most memory that a process held, bytes.
func peakOf(s *os.ProcessState) int64 {
	if s == nil {
		return 0
	}
	u, ok := s.SysUsage().(*syscall.Rusage)
	switch {
	case !ok:
		return 0
	case runtime.GOOS == "darwin":
		return int64(u.Maxrss)
	}
	return int64(u.Maxrss) << 10
}
