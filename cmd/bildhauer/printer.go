package main

import (
	"fmt"
	"net"
	"strings"

	"github.com/spf13/cobra"

	"bildhauer/core/print"
	"bildhauer/core/terms"
	"bildhauer/printer"
	"bildhauer/web"
)

// printerCommand runs the printer stand-in until it is ended.
func printerCommand() *cobra.Command {
	var listen, bed string
	var speed float64
	c := command("printer", "A printer stand-in", "It takes prints as a printer does; see docs/printer.md.", noFiles,
		func(c *cobra.Command, _ []string) error { return runPrinter(c, listen, bed, speed) })
	beds := terms.Names("bed")
	c.Flags().StringVar(&listen, "listen", printer.DefaultListen, "The `ADDRESS` where it answers.")
	c.Flags().StringVar(&bed, "bed", beds[0], "Its bed: "+strings.Join(beds, " or ")+" mm to a side.")
	c.Flags().Float64Var(&speed, "speed", 60, "How many times faster than real it prints.")
	return c
}

func runPrinter(c *cobra.Command, listen, bed string, speed float64) error {
	size, ok := print.Beds[bed]
	if !ok {
		return wrong("--bed is one of %v", terms.Names("bed"))
	}
	if !(speed > 0 && speed <= 1e6) {
		return wrong("--speed is how many times faster than real it prints, up to a million")
	}
	if err := web.LoopbackAddress(listen); err != nil {
		return err
	}
	ln, err := net.Listen("tcp", listen)
	if err != nil {
		return fmt.Errorf("can't listen on %s: %w", listen, err)
	}
	fmt.Fprintf(c.OutOrStdout(), "The printer stand-in is at http://%s, %g times faster than real (Ctrl+C ends it)\n", ln.Addr(), speed)
	return printer.Serve(c.Context(), ln, printer.New("Quay workshop", size, speed))
}
