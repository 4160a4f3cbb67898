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
	"github.com/spf13/cobra"

	"bildhauer/core/print"
	"bildhauer/demo"
	"bildhauer/printer"
	"bildhauer/reader"
	"bildhauer/studio"
	"bildhauer/web"
)

const defaultListen = "127.0.0.1:8473"

// demoCommand runs the application with the demo's pieces.
func demoCommand() *cobra.Command {
	open, data := &opening{}, ""
	c := command("demo", "The application with demo pieces",
		"Without --data they are kept only while it runs.", noFiles,
		func(c *cobra.Command, _ []string) error { return runDemo(c, open, data) })
	c.Flags().StringVar(&open.listen, "listen", defaultListen, "The `ADDRESS` where it answers; the next free port if that is taken.")
	c.Flags().StringVar(&data, "data", "", "The `DIR` where pieces are kept.")
	return c
}

func runDemo(c *cobra.Command, open *opening, dir string) error {
	ctx, stdout := c.Context(), c.OutOrStdout()
	if err := web.LoopbackAddress(open.listen); err != nil {
		return err
	}
	open.asked = c.Flags().Changed("listen")
	ln, err := open.socket() // before anything is made
	if err != nil {
		return err
	}
	defer ln.Close()
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

// servingHow is how serve was called.
type servingHow struct {
	open                *opening
	data, device, lines string
}

// serveCommand runs the application.
func serveCommand() *cobra.Command {
	s := &servingHow{open: &opening{}}
	c := command("serve --data DIR", "The application", "How others reach it is told in docs/security.md.", noFiles,
		func(c *cobra.Command, _ []string) error { return s.run(c) })
	fs := c.Flags()
	fs.StringVar(&s.data, "data", "", "The `DIR` where pieces are kept.")
	fs.StringVar(&s.open.listen, "listen", defaultListen, "The `ADDRESS` where it answers.")
	fs.StringVar(&s.device, "printer", printer.DefaultListen, "The `ADDRESS` of the printer that it sends jobs to.")
	fs.StringVar(&s.lines, "log", "text", "How what goes wrong is logged: text or json.")
	fs.StringVar(&s.open.passphrase, "passphrase-file", "", "Who enters needs the first line of this `FILE`.")
	fs.StringVar(&s.open.cert, "cert", "", "The certificate `FILE` for HTTPS.")
	fs.StringVar(&s.open.key, "key", "", "The `FILE` of its key.")
	fs.StringVar(&s.open.proxies, "behind-proxy", "", "`ADDRESSES` of what stands in front and speaks HTTPS.")
	fs.StringArrayVar(&s.open.hosts, "host", nil, "A `NAME` under which people reach it; may be repeated.")
	return c
}

func (s *servingHow) run(c *cobra.Command) error {
	if s.data == "" {
		return wrong("serve needs --data DIR, the folder where pieces are kept")
	}
	switch s.lines {
	case "text":
	case "json":
		// What packages log goes there, too.
		slog.SetDefault(slog.New(slog.NewJSONHandler(c.ErrOrStderr(), nil)))
	default:
		return wrong("--log is text or json")
	}
	if err := web.LoopbackAddress(s.device); err != nil {
		return fmt.Errorf("--printer: %w", err)
	}
	for i, h := range s.open.hosts {
		s.open.hosts[i] = strings.ToLower(h)
	}
	if err := s.open.check(); err != nil {
		return err
	}
	s.open.asked = c.Flags().Changed("listen")
	ln, err := s.open.socket()
	if err != nil {
		return err
	}
	defer ln.Close()
	return serve(c.Context(), s.data, s.open, ln, s.device, c.OutOrStdout(), func(_ context.Context, st *studio.Studio) error {
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
