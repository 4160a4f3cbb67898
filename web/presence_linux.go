package web

import (
	"golang.org/x/sys/unix"
)

// closed reports whether the other side has closed the connection, or its half of it. It asks the
// system for that and does not look for the end among the bytes: where they are encrypted, the
// farewell of TLS stands before the end and hides it.
func closed(fd uintptr) bool {
	p := []unix.PollFd{{Fd: int32(fd), Events: unix.POLLRDHUP}}
	n, err := unix.Poll(p, 0)
	return err == nil && n > 0 && p[0].Revents&(unix.POLLRDHUP|unix.POLLHUP|unix.POLLERR|unix.POLLNVAL) != 0
}
