package main

import (
	"context"
	"fmt"
	"io"
	"net"

	"bildhauer/core/print"
	"bildhauer/core/terms"
	"bildhauer/printer"
	"bildhauer/web"
)

// printerCommand runs the printer stand-in until ctx ends.
func printerCommand(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	fs := newFlags("printer", stderr)
	listen := fs.String("listen", printer.DefaultListen, "")
	bed := fs.String("bed", terms.Names("bed")[0], "")
	speed := fs.Float64("speed", 60, "")
	if err := parseNone(fs, args, stderr); err != nil {
		return err
	}
	size, ok := print.Beds[*bed]
	if !ok {
		return wrong(stderr, "--bed is one of %v", terms.Names("bed"))
	}
	if !(*speed > 0 && *speed <= 1e6) {
		return wrong(stderr, "--speed is how many times faster than real it prints, up to a million")
	}
	if err := web.LoopbackAddress(*listen); err != nil {
		return err
	}
	ln, err := net.Listen("tcp", *listen)
	if err != nil {
		return fmt.Errorf("can't listen on %s: %w", *listen, err)
	}
	fmt.Fprintf(stdout, "The printer stand-in is at http://%s, %g times faster than real (Ctrl+C ends it)\n", ln.Addr(), *speed)
	return printer.Serve(ctx, ln, printer.New("Quay workshop", size, *speed))
}
