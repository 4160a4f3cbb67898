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
	"strings"
	"syscall"

	"bildhauer/core/mend"
	"bildhauer/core/terms"
	"bildhauer/core/write"
	"bildhauer/reader"
)

const usage = `Bildhauer turns flat vector artwork into clean solids.

  bildhauer demo    [--listen 127.0.0.1:8473]             the application with demo pieces, kept only
                    [--data DIR]                          while it runs, or in a folder
  bildhauer serve   --data DIR [--listen 127.0.0.1:8473]  the application
                    [--printer 127.0.0.1:9147]            the printer that it sends jobs to
                    [--log text|json]                     how what goes wrong is logged
                    [--passphrase-file FILE --host NAME (--cert FILE --key FILE | --behind-proxy ADDRESS)]
                                                          for others, too: docs/security.md
  bildhauer printer [--listen 127.0.0.1:9147]             a printer stand-in, see docs/printer.md
                    [--bed 180|256] [--speed 60]
  bildhauer backup  --data DIR -o FILE                    all pieces in one file; the application may run
  bildhauer restore FILE --data DIR                       a new data folder from such a file
  bildhauer notices                                       what others made of it, and the licences
  bildhauer inspect FILE...                               what is in the files, one JSON object a line
  bildhauer clean   FILE -o OUT.svg                       resolved outlines, strokes included
  bildhauer mend    FILE... (-o OUT.svg | -d DIR) [--fix all|tidy|heal|decide|KIND,...] [--list] [--width 100mm]
                                                          findings, listed or taken
  bildhauer make    FILE... (-o OUT.stl | -d DIR --format stl) [measures]
      --width 100mm or --height 50mm, --depth 8mm, --bevel 1mm, --bevel-height 1mm,
      --profile {profiles},
      --segments 4, --fineness draft|good|fine|0.02mm, --back flat|bevel, --outward,
      --mitred, --pillow 3mm or --dome 3mm,
      --direction forward|back|both, --offset 2mm, --wall 1mm, --tube, --tube-width 4mm,
      --tube-section round|own,
      --open front|back|both,
      --parts colour|layer|group|shape|outline, --spread 1mm,
      --relief 3mm (its height) or --relief-step 0.6mm, --outlines highest|groove,
      --colours 6 or --colours-apart 5 (gather near shades), --palette FILE (to given colours),
      --overlap cut|keep, --clearance 0.2mm, --fuse or --apart,
      --caps even|grid --spacing 2mm, --simplify 0.05mm, --triangles 5000,
      --mend all|KIND,..., --recipe FILE, --stats

  bildhauer picture FILE... (-o OUT.png, .exr or .hdr | -d DIR) [measures]
  bildhauer picture --piece ID --data DIR (-o OUT | -d DIR)    of a piece of the application
      --size 1920x1080, --quality draft|good|final, --samples 32 or --seconds 10, --seed 1,
      --raw (unfiltered; exr and hdr always are, but with --calm),
      --format png|png8|exr|hdr, --passes (depth, normals, shadow and a mask a part, in exr),
      --around FILE.hdr, --shutter 0.5 (motion blur),
      --move "{moves}" or a kept one, FILE.json,
      --unit part|word|line|layer|group, --order "left to right", --overlapping 0.8, --lasts 40 (frames each),
      --pivot "base line",
      --frame 12, --stats
  bildhauer frames  FILE... -d DIR [the same]             a numbered picture a frame; finished ones stay
      --frames 125, --from 0 --to 124

Findings are {findings}.
Formats are {formats}. Files are SVG, EPS, PostScript, AI or PDF, or bitmaps (PNG, JPEG, GIF,
WebP), told by their content. inspect, clean, mend and make also take --page N of files with
pages, --font FILE (TTF, OTF, WOFF) for text, repeat it, --bitmaps to trace bitmaps inside the
artwork, too, and --trace-by light or colours.

Several files may go to clean, mend and make with -d DIR; they are worked on side by side. Two
of one name are numbered, and no result takes the place of a file that was read. Exit
code 0: all done, 1: some file failed (stderr says which and why), 2: wrong usage.
`

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

func help() string {
	profiles := strings.Join(terms.Names("profile"), "|")
	var kinds []string
	for _, k := range mend.Kinds {
		kinds = append(kinds, k.Name)
	}
	formats := strings.Join(write.Formats, ", ")
	moves := strings.Join(terms.Names("move"), "|")
	return strings.NewReplacer("{profiles}", profiles, "{formats}", formats, "{findings}", strings.Join(kinds, ", "), "{moves}", moves).
		Replace(usage)
}

type command func(ctx context.Context, args []string, stdout, stderr io.Writer) error

// run runs a command until it is done or ctx ends it.
func run(ctx context.Context, args []string, stdout, stderr io.Writer) int {
	commands := map[string]command{
		"demo": demoCommand, "serve": serveCommand, "inspect": inspect, "clean": clean, "mend": mendFiles,
		"make": makeSolids, "picture": makePictures, "frames": makeFrames,
		"printer": printerCommand, "backup": backup, "restore": restore, "notices": writeNotices,
	}
	if len(args) == 0 {
		fmt.Fprint(stderr, help())
		return 2
	}
	if args[0] == "help" || args[0] == "-h" || args[0] == "--help" {
		fmt.Fprint(stdout, help())
		return 0
	}
	f, ok := commands[args[0]]
	if !ok {
		fmt.Fprintf(stderr, "bildhauer: there is no command %q\n\n%s", args[0], help())
		return 2
	}
	switch err := f(ctx, args[1:], stdout, stderr); {
	case err == nil:
		return 0
	case errors.Is(err, errUsage):
		return 2
	case errors.Is(err, errSome):
		return 1
	case errors.Is(err, context.Canceled):
		fmt.Fprintln(stderr, "bildhauer: interrupted; nothing half written is left")
		return 1
	default:
		fmt.Fprintf(stderr, "bildhauer: %v\n", err)
		return 1
	}
}
