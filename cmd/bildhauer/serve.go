package main

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"net"
	"os"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/print"
	"bildhauer/demo"
	"bildhauer/printer"
	"bildhauer/reader"
	"bildhauer/studio"
	"bildhauer/web"
)

const defaultListen = "127.0.0.1:8473"

func demoCommand(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	fs := newFlags("demo", stderr)
	listen := fs.String("listen", defaultListen, "")
	data := fs.String("data", "", "")
	if err := parseNone(fs, args, stderr); err != nil {
		return err
	}
	if err := web.LoopbackAddress(*listen); err != nil {
		return err
	}
	open := &opening{listen: listen}
	open.setFlags(fs)
	ln, err := open.socket() // before anything is made
	if err != nil {
		return err
	}
	defer ln.Close()
	dir := *data
	if dir == "" {
		if dir, err = os.MkdirTemp("", "bildhauer-demo-"); err != nil {
			return err
		}
		defer os.RemoveAll(dir)
		fmt.Fprintln(stdout, "What you make here is kept only while this runs. To keep it: bildhauer demo --data DIR")
	}
	fill := func(ctx context.Context, st *studio.Studio) error {
		if empty, err := st.Empty(ctx); err != nil || !empty { // of an earlier demo
			return err
		}
		return demo.Fill(ctx, st)
	}
	return serve(ctx, dir, open, ln, demoPrinter(ctx, stdout), stdout, fill)
}

// demoPrinter starts a printer stand-in and returns its address: the usual one, or another if
// that is taken.
func demoPrinter(ctx context.Context, stdout io.Writer) string {
	ln, err := net.Listen("tcp", printer.DefaultListen)
	if err != nil {
		ln, err = net.Listen("tcp", "127.0.0.1:0")
	}
	if err != nil {
		return printer.DefaultListen // none answers there, and the page says so
	}
	fmt.Fprintf(stdout, "A printer stand-in is at http://%s, %d times faster than real\n", ln.Addr(), demoSpeed)
	go printer.Serve(ctx, ln, printer.New("Quay workshop", print.Beds["180"], demoSpeed))
	return ln.Addr().String()
}

// demoSpeed makes half a minute of half an hour.
const demoSpeed = 60

func serveCommand(ctx context.Context, args []string, stdout, stderr io.Writer) error {
	fs := newFlags("serve", stderr)
	listen := fs.String("listen", defaultListen, "")
	data := fs.String("data", "", "")
	device := fs.String("printer", printer.DefaultListen, "")
	lines := fs.String("log", "text", "")
	open := &opening{listen: listen}
	fs.StringVar(&open.passphrase, "passphrase-file", "", "")
	fs.StringVar(&open.cert, "cert", "", "")
	fs.StringVar(&open.key, "key", "", "")
	fs.StringVar(&open.proxies, "behind-proxy", "", "")
	fs.Func("host", "", func(s string) error {
		open.hosts = append(open.hosts, strings.ToLower(s))
		return nil
	})
	if err := parseNone(fs, args, stderr); err != nil {
		return err
	}
	if *data == "" {
		return wrong(stderr, "serve needs --data DIR, the folder where pieces are kept")
	}
	switch *lines {
	case "text":
	case "json":
		slog.SetDefault(slog.New(slog.NewJSONHandler(stderr, nil))) // what packages log goes there, too
	default:
		return wrong(stderr, "--log is text or json")
	}
	if err := web.LoopbackAddress(*device); err != nil {
		return fmt.Errorf("--printer: %w", err)
	}
	if err := open.check(); err != nil {
		return err
	}
	open.setFlags(fs)
	ln, err := open.socket()
	if err != nil {
		return err
	}
	defer ln.Close()
	return serve(ctx, *data, open, ln, *device, stdout, func(_ context.Context, st *studio.Studio) error {
		st.KeepCopies()
		return nil
	})
}

// shutdownTime is how long requests may go on when the program ends.
const shutdownTime = 5 * time.Second

// printerPace is how often the printer is asked how far it is.
const printerPace = 500 * time.Millisecond

// serve runs the application until ctx ends.
func serve(
	ctx context.Context,
	dir string,
	open *opening,
	ln net.Listener,
	device string,
	stdout io.Writer,
	fill func(context.Context, *studio.Studio) error,
) error {
	pool := reader.New()
	defer pool.Close()
	st, err := studio.New(dir, studio.Reading(pool))
	if err != nil {
		return err
	}
	defer st.Close()
	st.UsePrinter(device, printerPace)
	if err := st.FollowPrints(); err != nil {
		return err
	}
	if fill != nil {
		if err := fill(ctx, st); err != nil {
			return err
		}
	}
	app, err := web.NewFor(st, open.access)
	if err != nil {
		return err
	}
	done := make(chan error, 1)
	go func() {
		<-ctx.Done()
		st.EndWindows() // open event streams would hold the shutdown
		err := app.ShutdownWithTimeout(shutdownTime)
		ln.Close() // where the end came before the application listened
		done <- err
	}()
	fmt.Fprintf(stdout, "Bildhauer is at %s://%s (Ctrl+C ends it)\n", open.scheme(), ln.Addr())
	err = app.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	if ctx.Err() == nil {
		return err
	}
	return <-done
}
