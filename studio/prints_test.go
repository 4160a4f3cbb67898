package studio

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"bildhauer/core/recipe"
	"bildhauer/internal/patience"
	"bildhauer/printer"
	"bildhauer/store"
)

// machine is a printer behind an address that can be switched off and on. It counts how often
// each job ends as done.
type machine struct {
	*httptest.Server
	device atomic.Pointer[printer.Device]
	mu     sync.Mutex
	done   map[string]int
}

func newMachine(t *testing.T, speed float64) *machine {
	m := &machine{done: map[string]int{}}
	m.boot(speed)
	m.Server = httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		m.device.Load().Handler().ServeHTTP(w, r)
	}))
	ctx, stop := context.WithCancel(context.Background())
	var wg sync.WaitGroup
	wg.Go(func() {
		for ctx.Err() == nil {
			m.device.Load().Pass(time.Millisecond)
			time.Sleep(time.Millisecond)
		}
	})
	t.Cleanup(func() { stop(); wg.Wait(); m.Server.Close() })
	return m
}

// boot switches it off and on: it has forgotten everything.
func (m *machine) boot(speed float64) {
	d := printer.New("Test", [3]float64{180, 180, 180}, speed)
	d.OnEnd(func(j printer.Job) {
		m.mu.Lock()
		defer m.mu.Unlock()
		if j.State == printer.Done {
			m.done[j.Key]++
		}
	})
	m.device.Store(d)
}

func (m *machine) address() string { return m.Server.Listener.Addr().String() }

// printProgram is a print of so many layers of 5 s.
func printProgram(layers int) string {
	var b strings.Builder
	b.WriteString("; piece: Pier tag\n; bed: 180 x 180 x 180 mm\nM104 S210\nG0 X10 Y10 F6000\n")
	for i := range layers {
		fmt.Fprintf(&b, "; layer %d of %d\nG0 Z%g F6000\nG1 X110 E5 F1200\n", i+1, layers, 0.2*float64(i+1))
	}
	return b.String()
}

// queued keeps a print as SendPrint does, of a file of the test's own.
func queued(t *testing.T, s *Studio, piece string, layers int) string {
	t.Helper()
	id := newID()
	if err := os.MkdirAll(filepath.Dir(s.printFile(id)), 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(s.printFile(id), []byte(printProgram(layers)), 0o600); err != nil {
		t.Fatal(err)
	}
	if err := s.store.AddPrint(t.Context(), store.Print{ID: id, PieceID: piece, Name: "Pier tag", State: Sending, Layers: layers}); err != nil {
		t.Fatal(err)
	}
	s.follow(id)
	return id
}

func printOf(t *testing.T, s *Studio, id string) store.Print {
	t.Helper()
	p, err := s.store.Print(t.Context(), id)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func untilPrint(t *testing.T, s *Studio, id string, want func(p store.Print) bool) store.Print {
	t.Helper()
	end := time.Now().Add(patience.Of(t))
	for {
		p := printOf(t, s, id)
		if want(p) {
			return p
		}
		if time.Now().After(end) {
			t.Fatalf("the print stays %+v", p)
		}
		time.Sleep(2 * time.Millisecond)
	}
}

func has(state string) func(store.Print) bool {
	return func(p store.Print) bool { return p.State == state }
}

// TestManyPrints sends 100 jobs (500 with BILDHAUER_SOAK) to a printer that fails at random, while people pause,
// resume and cancel, the line is lost, the printer is switched off, and this program ends and
// starts again: each ends done, cancelled or with a reason; what is done here was printed, and
// nothing is printed twice.
func TestManyPrints(t *testing.T) {
	dir := t.TempDir()
	const pace, wave, speed = time.Millisecond, 25, 20_000
	jobs := 100
	if os.Getenv("BILDHAUER_SOAK") != "" {
		jobs = 500
	}
	m := newMachine(t, speed)
	s, err := New(dir)
	if err != nil {
		t.Fatal(err)
	}
	s.UsePrinter(m.address(), pace)
	piece := made(t, s, File{"sign.svg", []byte(square)})
	rnd := rand.New(rand.NewPCG(5, 50))
	var ids []string
	ends := map[string]int{}
	for len(ids) < jobs {
		m.device.Load().Ask(printer.Trouble{Kind: printer.WrongBed})
		var now []string
		for k := range wave {
			now = append(now, queued(t, s, piece, 1+rnd.IntN(12)))
			if k%5 == 4 {
				s.ActOnPrint(t.Context(), piece, now[k], "cancel")
			}
		}
		ids = append(ids, now...)
		left := len(now)
		for round := 0; left > 0; round++ {
			if round > 20_000 {
				t.Fatal("some never end")
			}
			trouble(t, rnd, m, &s, dir, now, pace, speed)
			left = 0
			for _, id := range now {
				p := printOf(t, s, id)
				if !ended(p.State) {
					left++
				}
				if p.State == string(printer.Waiting) { // the person fills it up
					s.ActOnPrint(t.Context(), piece, id, "resume")
				}
			}
			time.Sleep(time.Millisecond)
		}
	}
	for _, id := range ids {
		p := printOf(t, s, id)
		ends[p.State]++
		if p.State == string(printer.Failed) && p.Note == "" {
			t.Errorf("%s failed without a reason", id)
		}
		m.mu.Lock()
		n := m.done[id]
		m.mu.Unlock()
		if n > 1 || p.State == string(printer.Done) && n != 1 {
			t.Errorf("%s is %s and was printed %d times", id, p.State, n)
		}
	}
	// Their files go, also that of one that ended when this program was killed.
	left := s.printFile("0123456789abcdef")
	if err := os.WriteFile(left, nil, 0o600); err != nil {
		t.Fatal(err)
	}
	if err := s.FollowPrints(); err != nil {
		t.Fatal(err)
	}
	for end := time.Now().Add(patience.Of(t)); ; time.Sleep(time.Millisecond) {
		files, _ := filepath.Glob(s.printFile("*"))
		if len(files) == 0 {
			break
		}
		if time.Now().After(end) {
			t.Fatalf("all have ended, and there are still %v", files)
		}
	}
	t.Logf("%v", ends)
	if ends["done"] < jobs/4 || ends["cancelled"] < jobs/50 || ends["failed"] < jobs/100 {
		t.Errorf("ends: %v", ends)
	}
	s.Close()
}

// trouble lets something happen, sometimes.
func trouble(t *testing.T, rnd *rand.Rand, m *machine, s **Studio, dir string, ids []string, pace time.Duration, speed float64) {
	id := ids[rnd.IntN(len(ids))]
	act := func(what string) {
		p := printOf(t, *s, id)
		if err := (*s).ActOnPrint(t.Context(), p.PieceID, id, what); err != nil {
			t.Fatal(err)
		}
	}
	ask := func(tr printer.Trouble) { m.device.Load().Ask(tr) }
	switch rnd.IntN(60) {
	case 0, 1, 2, 3, 4:
		act("cancel")
	case 5, 6, 7, 8:
		act("pause")
	case 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20:
		act("resume")
	case 21, 22, 23:
		ask(printer.Trouble{Kind: printer.NoFilament, Layer: rnd.IntN(8)})
	case 24, 25:
		ask(printer.Trouble{Kind: printer.ColdNozzle, Layer: rnd.IntN(8)})
	case 26, 27, 28, 29:
		ask(printer.Trouble{Kind: printer.LostLine, Seconds: 0.02 * rnd.Float64()})
	case 30:
		ask(printer.Trouble{Kind: printer.WrongBed})
	case 31:
		m.boot(speed)
	case 32: // this program ends and starts again
		if err := (*s).Close(); err != nil {
			t.Fatal(err)
		}
		again, err := New(dir)
		if err != nil {
			t.Fatal(err)
		}
		again.UsePrinter(m.address(), pace)
		if err := again.FollowPrints(); err != nil {
			t.Fatal(err)
		}
		*s = again
	}
	for _, other := range ids { // nobody leaves a print paused for ever
		if p := printOf(t, *s, other); p.State == string(printer.Paused) && rnd.IntN(20) == 0 {
			(*s).ActOnPrint(t.Context(), p.PieceID, other, "resume")
		}
	}
}

// TestAPieceIsPrinted sends a real piece all the way, and what can't be sent or is not there.
func TestAPieceIsPrinted(t *testing.T) {
	s, err := New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	id := made(t, s, File{"sign.svg", []byte(square)})
	// Nothing listens there yet: it waits, can be cancelled, and nothing is lost.
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	s.UsePrinter(ln.Addr().String(), 2*time.Millisecond)
	ln.Close()
	if _, ok := s.PrinterStatus(t.Context()); ok {
		t.Error("a printer answers that is not there")
	}
	p, err := s.SendPrint(t.Context(), piece(t, s, id))
	if err != nil {
		t.Fatal(err)
	}
	untilPrint(t, s, p.ID, func(p store.Print) bool { return p.State == Sending && strings.Contains(p.Note, "does not answer") })
	for act, want := range map[string]string{"forget": "cancel it first", "dance": "paused, resumed"} {
		if err := s.ActOnPrint(t.Context(), id, p.ID, act); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", act, err)
		}
	}
	if err := s.ActOnPrint(t.Context(), "other", p.ID, "pause"); err == nil {
		t.Error("a print of another piece was paused")
	}
	m := newMachine(t, 100_000)
	again, err := net.Listen("tcp", ln.Addr().String())
	if err != nil {
		t.Skip("the address was taken meanwhile")
	}
	server := &http.Server{Handler: m.Server.Config.Handler}
	go server.Serve(again)
	defer server.Close()
	got := untilPrint(t, s, p.ID, has("done"))
	if got.Share != 1 || got.Layer != got.Layers || m.done[p.ID] != 1 {
		t.Errorf("%+v", got)
	}
	if err := s.ActOnPrint(t.Context(), id, p.ID, "forget"); err != nil {
		t.Fatal(err)
	}
	if list, _ := s.Prints(t.Context(), id); len(list) != 0 {
		t.Errorf("forgotten: %+v", list)
	}
	// What does not fit on the bed is not sent.
	change(t, s, id, "Copies", &recipe.SetPrint{"copies": 200})
	if _, err := s.SendPrint(t.Context(), piece(t, s, id)); err == nil || !strings.Contains(err.Error(), "fit") {
		t.Errorf("200 copies: %v", err)
	}
}
