// Package browser starts the headless Chromium that tests and screenshots
// drive.
package browser

import (
	"context"
	"errors"
	"os"
	"os/exec"
	"time"

	"github.com/chromedp/chromedp"
)

// Width and Height of the window in which pages are judged.
const (
	Width  = 1280
	Height = 800
)

// Rough takes less time where there is no graphics card: edges of 3D are not smoothed, and pages are
// put together without it. For tests that look at other things.
var Rough = map[string]any{"webgl-antialiasing-mode": "none", "disable-gpu-compositing": true}

// Start starts Chromium, with further flags (of a kind without windows, where there is one: it takes half
// of the time), and returns a context from which tabs are made.
func Start(more ...map[string]any) (context.Context, func(), error) {
	path := ""
	for _, name := range []string{"chromium-headless-shell", "chromium", "chromium-browser", "google-chrome"} {
		if p, err := exec.LookPath(name); err == nil {
			path = p
			break
		}
	}
	if path == "" {
		return nil, nil, errors.New("Chromium is not installed; make test installs it")
	}
	profile, err := os.MkdirTemp("", "bildhauer-browser-")
	if err != nil {
		return nil, nil, err
	}
	opts := []chromedp.ExecAllocatorOption{
		chromedp.ExecPath(path),
		chromedp.UserDataDir(profile),
		chromedp.NoSandbox,
	}
	for name, value := range map[string]any{"headless": true, "use-gl": "angle", "use-angle": "swiftshader", "enable-unsafe-swiftshader": true,
		"disable-quic": true, "no-first-run": true, "no-default-browser-check": true, "disable-background-networking": true,
		"disable-component-update": true, "disable-sync": true, "hide-scrollbars": true,
		"disable-gpu-rasterization": true} {
		opts = append(opts, chromedp.Flag(name, value))
	}
	for _, flags := range more {
		for name, value := range flags {
			opts = append(opts, chromedp.Flag(name, value))
		}
	}
	alloc, cancelAlloc := chromedp.NewExecAllocator(context.Background(), opts...)
	root, cancelRoot := chromedp.NewContext(alloc)
	stop := func() {
		cancelRoot()
		cancelAlloc()
		os.RemoveAll(profile)
	}
	if err := chromedp.Do(root, chromedp.Navigate("about:blank")); err != nil {
		stop()
		return nil, nil, err
	}
	return root, stop, nil
}

// Tab opens a fresh window of its own, without cookies, of the usual size.
func Tab(root context.Context, limit time.Duration) (context.Context, func(), error) {
	tab, cancel := chromedp.NewContext(root, chromedp.WithNewBrowserContext())
	ctx, cancelTime := context.WithTimeout(tab, limit)
	stop := func() {
		cancelTime()
		cancel()
	}
	if err := chromedp.Do(ctx, chromedp.EmulateViewport(Width, Height)); err != nil {
		stop()
		return nil, nil, err
	}
	return ctx, stop, nil
}

// Wait waits until a JavaScript expression is true.
func Wait(ctx context.Context, expression string) error {
	for {
		ok, err := chromedp.Run(ctx, chromedp.Evaluate[bool]("!!("+expression+")"))
		if err == nil && ok {
			return nil
		}
		select {
		case <-ctx.Done():
			return errors.New("never came true: " + expression)
		case <-time.After(40 * time.Millisecond):
		}
	}
}

// Eval runs JavaScript and returns its value.
func Eval[T any](ctx context.Context, expression string) (T, error) {
	return chromedp.Run(ctx, chromedp.Evaluate[T](expression))
}
