package reader

import (
	"bufio"
	"context"
	"errors"
	"io"
	"os"
	"runtime"
	"runtime/debug"
	"runtime/metrics"
	"sync"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/read"
	"bildhauer/core/read/budget"
	"bildhauer/core/read/font"
)

// What one file may take. A reader that goes beyond it is ended; long before it needs more memory than
// this the collector works hard to stay within.
const (
	Memory  = 850 << 20               // bytes
	Time    = 3000 * time.Millisecond // of work, after which reading stops with a sentence
	heap    = Memory * 7 / 10         // bytes of what a file has made, when reading stops with a sentence
	hard    = 3700 * time.Millisecond // of work, when the reader ends in the middle of it
	stack   = 128 << 20               // bytes of a goroutine's stack
	lasting = 40 << 20                // bytes that a reader may keep between files
)

// exitLate is how a reader ends that has worked too long.
const exitLate = 9

// Main turns the program into a reader if it was started as one, and never returns then. Call
// it before anything else.
func Main() {
	if os.Getenv(marker) == "" {
		return
	}
	answers := os.Stdout
	os.Stdout = os.Stderr // what a library prints is no answer
	debug.SetGCPercent(400)
	debug.SetMemoryLimit(Memory * 6 / 10)
	debug.SetMaxStack(stack)
	confine()
	if err := serve(os.Stdin, answers); err != nil && !errors.Is(err, io.EOF) {
		os.Exit(3)
	}
	os.Exit(0)
}

// serve answers requests until there are no more.
func serve(in io.Reader, out io.Writer) error {
	font.Warm()
	if err := sendAnswer(out, ready, nil); err != nil {
		return err
	}
	buffered := bufio.NewReaderSize(in, 1<<16)
	for {
		r, parts, err := readRequest(buffered)
		if err != nil {
			return err
		}
		stop := overtime(hard)
		kind, body := answer(r, parts)
		if err := sendAnswer(out, kind, body); err != nil {
			return err
		}
		stop()
		parts, body = nil, nil
		tidy()
	}
}

// misbehave is what tests do to a reader; nil in the program.
var misbehave func(name string)

// overtime ends this process when it has worked for so long, unless it is stopped before.
func overtime(d time.Duration) (stop func()) {
	until := spent() + d
	done := make(chan struct{})
	go func() {
		for tick := time.NewTicker(50 * time.Millisecond); ; {
			select {
			case <-done:
				tick.Stop()
				return
			case <-tick.C:
				if spent() > until {
					os.Exit(exitLate)
				}
			}
		}
	}()
	return sync.OnceFunc(func() { close(done) })
}

// answer reads one file.
func answer(r request, parts [][]byte) (kind byte, body []byte) {
	if misbehave != nil {
		misbehave(r.Name)
	}
	if r.Font {
		if err := tryFont(parts[0]); err != nil {
			return refusal, []byte(err.Error())
		}
		return fontOK, nil
	}
	lib := &font.Library{}
	for _, data := range parts[1:] {
		face, err := font.ParseFace(data)
		if err != nil {
			continue // it was read when it was added
		}
		face.Added = true
		lib.Added = append(lib.Added, face)
	}
	begun := spent()
	s, err := read.SheetWith(context.Background(), r.Name, parts[0], read.Options{
		Fonts: lib, Page: r.Page, Trace: r.Trace,
		Watch: budget.Watch{
			Time: Time, Clock: func() time.Duration { return spent() - begun },
			Bytes: heap, Held: held,
		},
	})
	return said(s, err)
}

// held returns how much memory is in use by what the program made. The collector begins to work
// hard at less than heap, so that little of this is what nobody uses any more.
func held() int64 {
	s := []metrics.Sample{{Name: "/memory/classes/heap/objects:bytes"}}
	metrics.Read(s)
	return int64(s[0].Value.Uint64())
}

func said(s *artwork.Sheet, err error) (kind byte, body []byte) {
	if err == nil {
		return sheet, s.Pack()
	}
	var no *read.Refusal
	if errors.As(err, &no) && no.Bug != nil {
		return mistake, append(append([]byte(no.Text), 0), no.Bug.Error()...)
	}
	return refusal, []byte(err.Error())
}

// tryFont reads a font and all its letters.
func tryFont(data []byte) error {
	face, err := font.ParseFace(data)
	if err != nil {
		return err
	}
	return face.Try()
}

// tidy gives back what a large file took.
func tidy() {
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	if m.HeapSys-m.HeapReleased > lasting {
		debug.FreeOSMemory()
	}
}
