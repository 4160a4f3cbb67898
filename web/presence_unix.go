//go:build unix

package web

import (
	"context"
	"net"
	"time"

	"github.com/gofiber/fiber/v3"
)

// lookEvery is how often a connection is looked at while work goes on for it.
const lookEvery = 100 * time.Millisecond

// whilePresent returns a context that ends when the client closes its
// connection. The server does not look at a connection while it answers, so
// this does. stop must be called before the answer.
func whilePresent(c fiber.Ctx) (ctx context.Context, stop func()) {
	ctx, cancel := context.WithCancel(context.Background())
	conn := c.RequestCtx().Conn()
	if inner, ok := conn.(interface{ NetConn() net.Conn }); ok { // beneath TLS
		conn = inner.NetConn()
	}
	socket, ok := conn.(*net.TCPConn)
	if !ok {
		return ctx, cancel
	}
	raw, err := socket.SyscallConn()
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
			gone := false
			if err := raw.Control(func(fd uintptr) { gone = closed(fd) }); err != nil || gone {
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
