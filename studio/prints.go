package studio

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log"
	"net/http"
	"os"
	"path/filepath"
	"sync"
	"time"

	"bildhauer/printer"
	"bildhauer/store"
)

// States of a print beyond those of the printer's jobs.
const (
	Sending = "sending" // the printer has not taken it yet
	Lost    = "lost"    // the printer does not answer; it goes on when it does
)

const switchedOff = "the printer was switched off while this was sent; look whether it was printed, and send it again if not"

// prints follows each print that has not ended: sends it, asks how far it is, tells the printer
// what people wish. All that is known is in the data folder, and a printer does not begin a
// job again whose key it knows, so that neither a lost connection nor a restart of this
// program loses a job or prints it twice.
type prints struct {
	device *device
	pace   time.Duration // between two questions
	mu     sync.Mutex
	pokes  map[string]chan struct{} // of those that are followed
	wg     sync.WaitGroup
}

func newPrints() *prints {
	return &prints{device: newDevice(printer.DefaultListen), pace: 500 * time.Millisecond, pokes: map[string]chan struct{}{}}
}

// UsePrinter names the address of the printer and how often it is asked. It is called before
// anything is printed.
func (s *Studio) UsePrinter(address string, pace time.Duration) {
	s.prints.device, s.prints.pace = newDevice(address), pace
}

// FollowPrints goes on with all prints that have not ended.
func (s *Studio) FollowPrints() error {
	list, err := s.store.Prints(s.ctx, "")
	if err != nil {
		return err
	}
	open := map[string]bool{}
	for _, p := range list {
		if !ended(p.State) {
			open[s.printFile(p.ID)] = true
			s.follow(p.ID)
		}
	}
	// What an earlier run left of those that had ended.
	files, err := filepath.Glob(s.printFile("*"))
	for _, f := range files {
		if !open[f] {
			os.Remove(f)
		}
	}
	return err
}

func ended(state string) bool { return printer.State(state).Ended() }

// PrinterStatus tells how the printer is; ok is false where none answers.
func (s *Studio) PrinterStatus(ctx context.Context) (status printer.Status, ok bool) {
	status, err := s.prints.device.status(ctx)
	return status, err == nil
}

func (s *Studio) printFile(id string) string { return filepath.Join(s.home, "prints", id+".gcode") }

// SendPrint sends a piece to the printer.
func (s *Studio) SendPrint(ctx context.Context, p Piece) (store.Print, error) {
	job, err := s.PrintJob(ctx, p)
	if err != nil {
		return store.Print{}, err
	}
	id := newID()
	if err := os.MkdirAll(filepath.Dir(s.printFile(id)), 0o700); err != nil {
		return store.Print{}, err
	}
	x, err := s.Export(ctx, p, "gcode", "")
	if err != nil {
		return store.Print{}, err
	}
	err = writeWhole(s.printFile(id), func(f *os.File) error { return copyInto(f, x.Path) })
	if err != nil {
		return store.Print{}, err
	}
	out := store.Print{
		ID: id, PieceID: p.ID, Name: p.Recipe.Name, State: Sending, Layers: len(job.Value.Laid), Remaining: job.Value.Time(),
		CreatedAt: time.Now().UnixMilli(),
	}
	if err := s.store.AddPrint(ctx, out); err != nil {
		os.Remove(s.printFile(id))
		return store.Print{}, err
	}
	s.follow(id)
	return out, nil
}

// copyInto writes what a file holds to another.
func copyInto(f *os.File, from string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	_, err = io.Copy(f, in)
	return err
}

// Prints lists the prints of a piece, the newest first.
func (s *Studio) Prints(ctx context.Context, piece string) ([]store.Print, error) {
	return s.store.Prints(ctx, piece)
}

// ActOnPrint pauses, resumes, cancels or forgets a print. What the printer can't hear now it is
// told when it answers.
func (s *Studio) ActOnPrint(ctx context.Context, piece, id, act string) error {
	p, err := s.store.Print(ctx, id)
	if errors.Is(err, store.ErrNotFound) || err == nil && p.PieceID != piece {
		return input("there is no such print any more")
	}
	switch {
	case err != nil:
		return err
	case act == "forget" && ended(p.State):
		return s.store.DropPrint(ctx, id)
	case act == "forget":
		return input("a print that has not ended can't be deleted; cancel it first")
	case act != "pause" && act != "resume" && act != "cancel":
		return input("a print is paused, resumed, cancelled or deleted")
	case ended(p.State):
		return nil
	}
	if err := s.store.WishPrint(ctx, id, act); err != nil {
		return err
	}
	s.follow(id)
	return nil
}

// follow sees to a print until it ends, or pokes who does.
func (s *Studio) follow(id string) {
	w := s.prints
	w.mu.Lock()
	defer w.mu.Unlock()
	if poke, ok := w.pokes[id]; ok {
		select {
		case poke <- struct{}{}:
		default:
		}
		return
	}
	if s.ctx.Err() != nil {
		return
	}
	poke := make(chan struct{}, 1)
	w.pokes[id] = poke
	w.wg.Go(func() {
		s.followed(id, poke)
	})
}

func (s *Studio) followed(id string, poke chan struct{}) {
	wait := s.prints.pace
	for s.ctx.Err() == nil {
		over, heard, err := s.printStep(id)
		if err != nil && s.ctx.Err() == nil {
			log.Printf("print %s: %v", id, err)
		}
		if over {
			break
		}
		// One that does not answer is asked less and less often, up to ten times the pace.
		if wait = min(wait*2, 10*s.prints.pace); heard && err == nil {
			wait = s.prints.pace
		}
		select {
		case <-s.ctx.Done():
		case <-poke:
			continue
		case <-time.After(wait):
		}
	}
	s.prints.mu.Lock()
	defer s.prints.mu.Unlock()
	delete(s.prints.pokes, id)
}

// printStep does what is next for a print. over says that it has ended or is gone, heard that
// the printer answered.
func (s *Studio) printStep(id string) (over, heard bool, err error) {
	p, err := s.store.Print(s.ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		os.Remove(s.printFile(id)) // its piece was purged
		return true, true, nil
	}
	if err != nil {
		return false, true, err
	}
	if ended(p.State) {
		return true, true, nil
	}
	unheard := p.Boot != "" // it was sent before, and no answer came
	j, err := s.tellPrinter(&p)
	no := refusal(err)
	switch {
	case s.ctx.Err() != nil:
		return false, false, nil
	case err == nil:
		p.State, p.Note, p.Layer, p.Share, p.Remaining = string(j.State), j.Reason, j.Layer, j.Progress, j.Left
	case no == nil:
		if p.State != Sending {
			p.State = Lost
		}
		p.Note = "the printer does not answer; it is asked again and again"
		return false, false, s.store.SetPrint(s.ctx, p)
	case no.code == http.StatusPreconditionFailed && !unheard: // it was switched off just now
		p.Boot = ""
	case no.code == http.StatusPreconditionFailed:
		p.State, p.Note = string(printer.Failed), switchedOff
	case no.isBusy():
		if !unheard {
			p.Boot = ""
		}
		p.State, p.Note = Sending, no.text+"; this one is sent when it is free"
	default:
		p.State, p.Note = string(printer.Failed), no.text
	}
	if err := s.store.SetPrint(s.ctx, p); err != nil {
		return false, true, err
	}
	if ended(p.State) {
		os.Remove(s.printFile(id))
		return true, true, nil
	}
	return false, true, nil
}

// tellPrinter tells the printer what it does not know yet, and hears how far the job is.
func (s *Studio) tellPrinter(p *store.Print) (j printer.Job, err error) {
	d := s.prints.device
	if p.Wish == "cancel" || p.Wish != "" && p.State != Sending {
		if j, err = d.act(s.ctx, p.ID, p.Wish); err == nil {
			err = s.store.WishPrint(s.ctx, p.ID, "", p.Wish)
		}
		return j, err
	}
	if p.State != Sending {
		j, err = d.job(s.ctx, p.ID)
		if no := refusal(err); no != nil && no.code == http.StatusNotFound {
			no.text = "the printer does not know this job any more: it was switched off in between"
		}
		return j, err
	}
	// What was sent without an answer may have been printed by a printer that was switched off
	// in between and knows nothing of it: that is for a person to see.
	status, err := d.status(s.ctx)
	if err != nil {
		return j, err
	}
	if p.Boot != "" && p.Boot != status.Boot {
		return j, &errRefused{0, switchedOff}
	}
	p.Boot = status.Boot
	if err := s.store.SetPrint(s.ctx, *p); err != nil {
		return j, err
	}
	f, err := os.Open(s.printFile(p.ID))
	if err != nil {
		return j, &errRefused{0, fmt.Sprintf("its print file is gone: %v", err)}
	}
	defer f.Close()
	return d.send(s.ctx, p.ID, p.Boot, f)
}
