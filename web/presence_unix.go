//go:build unix

package web

import (
	"context"
	"net"
	"syscall"
	"time"

	"github.com/gofiber/fiber/v3"
)

// lookEvery is how often a connection is looked at while work goes on for it.
const lookEvery = 100 * time.Millisecond

// whilePresent returns a context that ends when the client closes its
// connection. The server does not look at a connection while it answers, so
// this peeks without taking a byte. stop must be called before the answer.
func whilePresent(c fiber.Ctx) (ctx context.Context, stop func()) {
	ctx, cancel := context.WithCancel(context.Background())
	conn, ok := c.RequestCtx().Conn().(*net.TCPConn)
	if !ok {
		return ctx, cancel
	}
	raw, err := conn.SyscallConn()
	if err != nil {
		return ctx, cancel
	}
	ended := make(chan struct{})
	go func() {
		defer close(ended)
		tick := time.NewTicker(lookEvery)
		defer tick.Stop()
		for {
			select {
			case <-ctx.Done():
				return
			case <-tick.C:
			}
			if closed(raw) {
				cancel()
				return
			}
		}
	}()
	return ctx, func() {
		cancel()
		<-ended
	}
}

// closed reports whether the other side has closed the connection.
func closed(raw syscall.RawConn) bool {
	gone := false
	err := raw.Control(func(fd uintptr) {
		var b [1]byte
		n, _, err := syscall.Recvfrom(int(fd), b[:], syscall.MSG_PEEK|syscall.MSG_DONTWAIT)
		gone = n == 0 && err == nil || err == syscall.ECONNRESET
	})
	return gone || err != nil
}
