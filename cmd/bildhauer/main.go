// Command bildhauer turns flat vector artwork into clean solids: in the
// browser (demo, serve) or from the command line (inspect, clean, mend, make).
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"

	"github.com/spf13/cobra"

	"bildhauer/reader"
)

// errUsage marks wrong usage; its text has been printed.
var errUsage = errors.New("usage")

// errSome says that some file failed; each has been reported.
var errSome = errors.New("some file failed")

func main() {
	reader.Main() // the program reads artwork in children of itself
	// Small artwork is faster with a lazy collector; large artwork must live
	// within 1 GB, so collect harder before growing past it.
	debug.SetGCPercent(400)
	debug.SetMemoryLimit(850 << 20)
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	code := run(ctx, os.Args[1:], os.Stdout, os.Stderr)
	stop()
	os.Exit(code)
}

const about = `Bildhauer turns flat vector artwork into clean solids, in the browser or from
the command line. To begin: bildhauer demo

Files are SVG, EPS, PostScript, AI or PDF, or bitmaps (PNG, JPEG, GIF, WebP), told by
their content. Lengths take units and sums: 8mm, 2cm, 3/8 in, 12+0.4. Several files may
go to clean, mend, make and picture with -d DIR; they are worked on side by side. Two of
one name are numbered, and no result takes the place of a file that was read.

Exit code 0: all done, 1: some file failed (stderr says which and why), 2: wrong usage.`

// commandLine is the whole command line.
func commandLine(stdout, stderr io.Writer) *cobra.Command {
	root := &cobra.Command{
		Use: "bildhauer", Short: "Turns flat vector artwork into clean solids", Long: about,
		SilenceUsage: true, SilenceErrors: true,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 0 {
				return fmt.Errorf("there is no command %q", args[0])
			}
			return nil
		},
		RunE: func(c *cobra.Command, _ []string) error {
			fmt.Fprintln(stderr, c.UsageString())
			return errUsage
		},
	}
	root.SetOut(stdout)
	root.SetErr(stderr)
	root.CompletionOptions.HiddenDefaultCmd = false
	root.AddCommand(
		demoCommand(), serveCommand(), inspectCommand(), cleanCommand(), mendCommand(), makeCommand(), pictureCommand("picture"),
		pictureCommand("frames"), printerCommand(), backupCommand(), restoreCommand(), noticesCommand(), versionCommand(), manCommand(),
	)
	return root
}

// run runs a command until it is done or ctx ends it.
func run(ctx context.Context, args []string, stdout, stderr io.Writer) int {
	root := commandLine(stdout, stderr)
	root.SetArgs(append([]string{}, args...)) // nil would mean those of the process
	done, err := root.ExecuteContextC(ctx)
	var bad *badUsage
	switch {
	case err == nil:
		return 0
	case errors.Is(err, errUsage):
		return 2
	case errors.Is(err, errSome):
		return 1
	case errors.Is(err, context.Canceled):
		fmt.Fprintln(stderr, "bildhauer: interrupted; nothing half written is left")
		return 1
	case errors.As(err, &bad), !begun(ctx, done):
		fmt.Fprintf(stderr, "bildhauer: %v\n%s --help tells more\n", err, done.CommandPath())
		return 2
	}
	fmt.Fprintf(stderr, "bildhauer: %v\n", err)
	return 1
}
