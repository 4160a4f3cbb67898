package reader

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"runtime"
	"strings"
	"sync"
	"time"

	"bildhauer/core/artwork"
	"bildhauer/core/progress"
	"bildhauer/core/read"
)

const (
	late    = 30 * time.Second // a reader that has not answered by then hangs, or the machine is overloaded
	starts  = 10 * time.Second // that a reader may take to be there
	service = 500              // files after which a reader makes room for a fresh one
)

// Pool keeps readers ready.
type Pool struct {
	room chan struct{} // a place for each file at work

	mu     sync.Mutex
	asking map[string]*asker // those whose files are at work or wait
	idle   []*child
	closed bool
	all    sync.WaitGroup
}

// New returns a pool that reads as many files at a time as the machine has processors, at most
// four, and starts the first reader.
func New() *Pool {
	p := &Pool{room: make(chan struct{}, min(4, max(2, runtime.GOMAXPROCS(0)))), asking: map[string]*asker{}}
	p.warm()
	return p
}

// Close ends all readers.
func (p *Pool) Close() {
	p.mu.Lock()
	p.closed = true
	idle := p.idle
	p.idle = nil
	p.mu.Unlock()
	for _, c := range idle {
		c.end()
	}
	p.all.Wait()
}

// warm starts a reader ahead if none waits.
func (p *Pool) warm() {
	p.all.Go(func() {
		p.mu.Lock()
		needed := len(p.idle) == 0 && !p.closed
		p.mu.Unlock()
		if !needed {
			return
		}
		if c, err := start(); err == nil {
			p.put(c)
		}
	})
}

func (p *Pool) put(c *child) {
	p.mu.Lock()
	keep := !p.closed && len(p.idle) < cap(p.room) && c.served < service
	if keep {
		p.idle = append(p.idle, c)
	}
	p.mu.Unlock()
	if !keep {
		c.end()
	}
}

func (p *Pool) take() (*child, error) {
	p.mu.Lock()
	if n := len(p.idle); n > 0 {
		c := p.idle[n-1]
		p.idle = p.idle[:n-1]
		p.mu.Unlock()
		return c, nil
	}
	p.mu.Unlock()
	return start()
}

// Sheet reads a file as read.SheetWith does.
func (p *Pool) Sheet(ctx context.Context, name string, data []byte, o read.Options) (*artwork.Sheet, error) {
	if len(data) == 0 || len(data) > read.MaxBytes {
		return read.SheetWith(ctx, name, data, o) // which refuses it at once
	}
	r := request{Name: name, Page: o.Page, Trace: o.Trace, Size: len(data)}
	parts := [][]byte{data}
	if o.Fonts != nil {
		for _, f := range o.Fonts.Added {
			r.Fonts = append(r.Fonts, len(f.Source()))
			parts = append(parts, f.Source())
		}
	}
	kind, body, err := p.ask(ctx, r, parts)
	switch {
	case errors.Is(err, errNoReader): // a system that lets no process start
		return read.SheetWith(ctx, name, data, o)
	case err != nil:
		return nil, named(name, err)
	}
	switch kind {
	case sheet:
		s, err := artwork.Unpack(body)
		if err != nil {
			return nil, named(name, &broken{what: err.Error()})
		}
		return s, nil
	case refusal:
		return nil, &read.Refusal{Text: string(body)}
	case mistake:
		text, bug, _ := bytes.Cut(body, []byte{0})
		return nil, &read.Refusal{Text: string(text), Bug: errors.New(string(bug))}
	}
	return nil, named(name, &broken{what: errWire.Error()})
}

// Font tries a font file: its tables and all its letters. Errors are the rest of a sentence that
// begins with the file's name.
func (p *Pool) Font(ctx context.Context, data []byte) error {
	kind, body, err := p.ask(ctx, request{Size: len(data), Font: true}, [][]byte{data})
	var b *broken
	switch {
	case errors.Is(err, errNoReader):
		return tryFont(data)
	case errors.As(err, &b):
		return errors.New("is a font that " + b.says())
	case err != nil:
		return err
	case kind == fontOK:
		return nil
	}
	return errors.New(string(body))
}

// named makes a sentence of what happened to a reader.
func named(name string, err error) error {
	var b *broken
	if !errors.As(err, &b) {
		return err
	}
	return &read.Refusal{Text: name + " " + b.says(), Bug: b.bug()}
}

// asker is somebody (progress.Who) who brings files: all places but one are theirs at the most, so
// that files which take long keep nobody else waiting.
type asker struct {
	room  chan struct{}
	files int // that are at work or wait
}

// enter waits for a place; leave must be called.
func (p *Pool) enter(ctx context.Context) (leave func(), err error) {
	own := make(chan struct{}, 1)
	if who := progress.Who(ctx); who != "" {
		p.mu.Lock()
		a := p.asking[who]
		if a == nil {
			a = &asker{room: make(chan struct{}, max(1, cap(p.room)-1))}
			p.asking[who] = a
		}
		a.files++
		own = a.room
		p.mu.Unlock()
		defer func() {
			gone := func() {
				p.mu.Lock()
				defer p.mu.Unlock()
				if a.files--; a.files == 0 {
					delete(p.asking, who)
				}
			}
			if err != nil {
				gone()
				return
			}
			inner := leave
			leave = func() {
				inner()
				gone()
			}
		}()
	}
	select {
	case own <- struct{}{}:
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	select {
	case p.room <- struct{}{}:
	case <-ctx.Done():
		<-own
		return nil, ctx.Err()
	}
	return func() {
		<-p.room
		<-own
	}, nil
}

// ask gives a request to a reader and waits for its answer. It returns *broken when the reader
// did not survive it.
func (p *Pool) ask(ctx context.Context, r request, parts [][]byte) (kind byte, body []byte, err error) {
	leave, err := p.enter(ctx)
	if err != nil {
		return 0, nil, err
	}
	defer leave()
	for try := 0; ; try++ {
		c, err := p.take()
		if err != nil {
			return 0, nil, fmt.Errorf("%w: %v", errNoReader, err)
		}
		kind, body, err = c.ask(ctx, r, parts)
		if err == nil {
			c.served++
			p.put(c)
			return kind, body, nil
		}
		c.end()
		p.warm()
		if ctx.Err() != nil {
			return 0, nil, ctx.Err()
		}
		var b *broken
		if errors.As(err, &b) && b.before && try == 0 {
			continue // it had ended while it waited, whatever ended it
		}
		return 0, nil, err
	}
}

// errNoReader says that no child process can be started.
var errNoReader = errors.New("no reader can be started")

// child is a reader at the other end of two pipes.
type child struct {
	cmd    *exec.Cmd
	in     io.WriteCloser
	out    io.ReadCloser
	errs   *tail
	served int
	gone   sync.Once
}

func start() (*child, error) {
	self, err := os.Executable()
	if err != nil {
		return nil, err
	}
	c := &child{cmd: exec.Command(self), errs: &tail{}}
	c.cmd.Env = []string{marker + "=1", "TMPDIR=" + os.TempDir(), "LC_ALL=C"}
	if runtime.GOOS != "windows" {
		c.cmd.Dir = "/"
	}
	c.cmd.Stderr = c.errs
	if c.in, err = c.cmd.StdinPipe(); err != nil {
		return nil, err
	}
	if c.out, err = c.cmd.StdoutPipe(); err != nil {
		return nil, err
	}
	if err := c.cmd.Start(); err != nil {
		return nil, err
	}
	clock := time.AfterFunc(starts, func() { c.cmd.Process.Kill() })
	kind, _, err := readAnswer(c.out)
	clock.Stop()
	if err != nil || kind != ready {
		c.end()
		return nil, fmt.Errorf("it ended at once: %s", c.errs)
	}
	return c, nil
}

// end ends a reader.
func (c *child) end() {
	c.gone.Do(func() {
		c.in.Close()
		c.cmd.Process.Kill()
		c.cmd.Wait()
	})
}

func (c *child) ask(ctx context.Context, r request, parts [][]byte) (kind byte, body []byte, err error) {
	tooLate := false
	var mu sync.Mutex
	clock := time.AfterFunc(late, func() {
		mu.Lock()
		tooLate = true
		mu.Unlock()
		c.cmd.Process.Kill()
	})
	defer clock.Stop()
	stop := context.AfterFunc(ctx, func() { c.cmd.Process.Kill() })
	defer stop()
	err = sendRequest(c.in, r, parts...)
	unsent := err != nil
	if err == nil {
		kind, body, err = readAnswer(c.out)
	}
	if err == nil {
		return kind, body, nil
	}
	c.gone.Do(func() {
		c.in.Close()
		c.cmd.Process.Kill()
		c.cmd.Wait()
	})
	mu.Lock()
	defer mu.Unlock()
	return 0, nil, &broken{
		late: tooLate || c.cmd.ProcessState != nil && c.cmd.ProcessState.ExitCode() == exitLate, before: unsent && c.served > 0,
		peak: peakOf(c.cmd.ProcessState), what: c.errs.String(), state: fmt.Sprint(c.cmd.ProcessState),
	}
}

// broken is how a reader ended.
type broken struct {
	late   bool
	peak   int64  // bytes that it held
	before bool   // it was gone already
	what   string // the end of what it said
	state  string
}

func (b *broken) Error() string { return "the reader ended (" + b.state + "): " + b.what }

func (b *broken) full() bool {
	// Near its limit the runtime itself may be refused memory, and says so in many ways.
	return strings.Contains(b.what, "out of memory") || strings.Contains(b.what, "cannot allocate memory") || b.peak > Memory*3/4
}

func (b *broken) deep() bool { return strings.Contains(b.what, "stack exceeds") }

// says returns the rest of a sentence that begins with the file's name.
func (b *broken) says() string {
	switch {
	case b.late:
		return fmt.Sprintf("takes longer to read than a drawing should (%.2g seconds). Simplify the artwork and save it again", hard.Seconds())
	case b.full():
		return fmt.Sprintf("needs more memory to be read than a drawing should (%d MB). Simplify the artwork or split it", Memory>>20)
	case b.deep():
		return "nests its objects deeper than can be read. Ungroup the artwork and save it again"
	}
	return "breaks the reader; nothing else was harmed. Please keep the file and tell us about it"
}

// bug returns what is a mistake of the reader, nil for what only is too much.
func (b *broken) bug() error {
	if b.late || b.full() {
		return nil
	}
	return b
}

// tail keeps the beginning and the end of what a reader says.
type tail struct {
	mu         sync.Mutex
	head, last []byte
}

const tailBytes = 2000

func (t *tail) Write(b []byte) (int, error) {
	t.mu.Lock()
	defer t.mu.Unlock()
	n := len(b)
	if free := tailBytes - len(t.head); free > 0 {
		k := min(free, len(b))
		t.head = append(t.head, b[:k]...)
		b = b[k:]
	}
	t.last = append(t.last, b...)
	if over := len(t.last) - tailBytes; over > 0 {
		t.last = append([]byte(nil), t.last[over:]...)
	}
	return n, nil
}

func (t *tail) String() string {
	t.mu.Lock()
	defer t.mu.Unlock()
	return string(t.head) + string(t.last)
}
