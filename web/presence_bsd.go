//go:build unix && !linux

package web

import "syscall"

// closed reports whether the other side has closed the connection, without taking a byte. The
// farewell of TLS is a record of alerts (RFC 8446, 5.1 and 6.1), after which nothing comes.
func closed(fd uintptr) bool {
	const alert = 21
	var b [1]byte
	n, _, err := syscall.Recvfrom(int(fd), b[:], syscall.MSG_PEEK|syscall.MSG_DONTWAIT)
	return n == 0 && err == nil || err == syscall.ECONNRESET || n == 1 && b[0] == alert
}
