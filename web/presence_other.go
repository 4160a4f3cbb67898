//go:build !unix

package web

import (
	"context"

	"github.com/gofiber/fiber/v3"
)

// whilePresent returns a context that ends with stop: here a connection can't
// be looked at while its request is answered.
func whilePresent(fiber.Ctx) (ctx context.Context, stop func()) {
	return context.WithCancel(context.Background())
}
