package main

import (
	"context"
	"flag"
	"fmt"
	"io"
	"net"
	"os"
	"os/signal"
	"syscall"
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/demo"
	"bildhauer/studio"
	"bildhauer/web"
)

const defaultListen = "127.0.0.1:8473"

func demoCommand(args []string, stdout, stderr io.Writer) error {
	fs := flag.NewFlagSet("demo", flag.ContinueOnError)
	listen := fs.String("listen", defaultListen, "")
	if err := noFiles(fs, args, stderr); err != nil {
		return err
	}
	dir, err := os.MkdirTemp("", "bildhauer-demo-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	return serve(dir, *listen, stdout, demo.Fill)
}

func serveCommand(args []string, stdout, stderr io.Writer) error {
	fs := flag.NewFlagSet("serve", flag.ContinueOnError)
	listen := fs.String("listen", defaultListen, "")
	data := fs.String("data", "", "")
	if err := noFiles(fs, args, stderr); err != nil {
		return err
	}
	if *data == "" {
		return wrong(stderr, "serve needs --data DIR, the folder where pieces are kept")
	}
	return serve(*data, *listen, stdout, nil)
}

func noFiles(fs *flag.FlagSet, args []string, stderr io.Writer) error {
	fs.SetOutput(stderr)
	fs.Usage = func() { fmt.Fprint(stderr, usage) }
	if err := fs.Parse(args); err != nil {
		return errUsage
	}
	if fs.NArg() > 0 {
		return wrong(stderr, "%s takes no file (%s)", fs.Name(), fs.Arg(0))
	}
	return nil
}

// serve runs the application until a signal comes.
func serve(dir, listen string, stdout io.Writer, fill func(*studio.Studio) error) error {
	if err := web.LoopbackAddress(listen); err != nil {
		return err
	}
	st, err := studio.New(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	if fill != nil {
		if err := fill(st); err != nil {
			return err
		}
	}
	app, err := web.New(st)
	if err != nil {
		return err
	}
	ln, err := net.Listen("tcp", listen)
	if err != nil {
		return fmt.Errorf("can't listen on %s: %w", listen, err)
	}
	stop, cancel := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer cancel()
	done := make(chan error, 1)
	go func() {
		<-stop.Done()
		done <- app.ShutdownWithTimeout(5 * time.Second)
	}()
	fmt.Fprintf(stdout, "Bildhauer is at http://%s (Ctrl+C ends it)\n", ln.Addr())
	if err := app.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true}); err != nil {
		return err
	}
	return <-done
}
