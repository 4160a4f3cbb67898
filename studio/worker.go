package studio

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image/png"
	"log"
	"os"
	"path/filepath"
	"runtime/debug"
	"sync"
	"syscall"
	"time"

	"github.com/cenkalti/backoff/v5"

	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/store"
)

// worker makes orders one after the other. A finished frame is a file under its own name,
// written beside it first, so that whatever ends the program costs the frame at work alone;
// those that are there are not made again.
type worker struct {
	wake chan struct{} // holds one signal
	done chan struct{} // closed when it has ended

	mu     sync.Mutex
	id     string // of the order at work
	cancel context.CancelFunc
	keep   bool // what there is of a picture becomes the result
	share  float64
	begun  time.Time // of the frame at work
	look   []byte    // how far the frame at work is, a PNG file
	idle   chan struct{}

	stuck  string // why what was made can't be written down, "" if it can
	gaveUp bool   // it is not tried any more until somebody asks for it
}

// How often and for how long it is tried to write down how far an order is: the pauses double from
// half a second up to half a minute, some three minutes in all.
var (
	firstPause   = 500 * time.Millisecond
	longestPause = 30 * time.Second
)

const mostTries = 12

func newWorker() *worker {
	idle := make(chan struct{})
	close(idle)
	return &worker{wake: make(chan struct{}, 1), done: make(chan struct{}), idle: idle}
}

func (w *worker) poke() {
	select {
	case w.wake <- struct{}{}:
	default:
	}
}

// stop ends the work on an order, or does something else if it is not at work.
func (w *worker) stop(id string, otherwise func()) {
	w.mu.Lock()
	if w.id != id {
		w.mu.Unlock()
		otherwise()
		return
	}
	w.keep = true
	w.cancel()
	idle := w.idle
	w.mu.Unlock()
	<-idle
}

// progress tells how far the frame at work is, and how long the order will take.
func (w *worker) progress(o store.Order) (share float64, left time.Duration) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.id != o.ID {
		return 0, 0
	}
	now := time.Since(w.begun)
	each := time.Duration(0)
	switch {
	case o.Done > 0:
		each = time.Duration(o.Spent) * time.Millisecond / time.Duration(o.Done)
	case w.share > 0:
		each = time.Duration(float64(now) / w.share)
	}
	return w.share, max(0, time.Duration(float64(each)*(float64(o.Total-o.Done)-w.share)))
}

// OrderLook returns how far the picture at work is as a PNG file, nil for none.
func (s *Studio) OrderLook(id string) []byte {
	s.orders.mu.Lock()
	defer s.orders.mu.Unlock()
	if s.orders.id != id {
		return nil
	}
	return s.orders.look
}

// work makes orders until the studio closes. What an earlier run began goes on.
func (s *Studio) work() {
	defer close(s.orders.done)
	if list, err := s.store.Orders(s.ctx, ""); err == nil {
		for _, o := range list {
			if o.State == Running {
				s.setOrder(&o, Waiting, "")
			}
		}
		s.sweep(list)
	}
	pause := &backoff.ExponentialBackOff{
		InitialInterval: firstPause, Multiplier: 2, RandomizationFactor: 0.2, MaxInterval: longestPause,
	}
	pause.Reset()
	tries := 0
	for s.ctx.Err() == nil {
		o, ok := s.nextOrder()
		if !ok {
			s.orders.rest(s.ctx, nil)
			continue
		}
		err := s.serve(o)
		if err == nil || s.ctx.Err() != nil {
			tries = 0
			pause.Reset()
			s.orders.free()
			continue
		}
		tries++
		if s.orders.hold(err, tries >= mostTries) {
			s.diary.Write("keeping how far an order is", err)
		}
		s.bus.ordered(o.PieceID)
		if tries < mostTries {
			s.orders.rest(s.ctx, time.After(pause.NextBackOff()))
			continue
		}
		s.orders.rest(s.ctx, nil)
		tries = 0
		pause.Reset()
		s.orders.free()
	}
}

// rest waits until there is something to do, or till a time.
func (w *worker) rest(ctx context.Context, till <-chan time.Time) {
	select {
	case <-ctx.Done():
	case <-w.wake:
	case <-till:
	}
}

// free says that what is made can be written down.
func (w *worker) free() {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.stuck, w.gaveUp = "", false
}

// hold says that it can't, and whether it is given up; it reports whether that is news.
func (w *worker) hold(err error, gaveUp bool) (news bool) {
	w.mu.Lock()
	defer w.mu.Unlock()
	news = w.stuck == "" || gaveUp
	why := "it can't be written down"
	switch {
	case errors.Is(err, store.ErrFull):
		why = "the disk is full"
	case errors.Is(err, store.ErrReadOnly):
		why = "the data folder can't be written"
	}
	w.stuck, w.gaveUp = sentence(why+"; it is tried again by itself"), gaveUp
	if gaveUp {
		w.stuck = sentence(why + "; it was tried for a while. What is finished stays: put it right, then go on")
	}
	return news
}

// trouble returns why orders that wait do not go on, and whether they do not by themselves.
func (w *worker) trouble() (why string, gaveUp bool) {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.stuck, w.gaveUp
}

// sweep removes the files of orders that are not known any more.
func (s *Studio) sweep(known []store.Order) {
	there := map[string]bool{}
	for _, o := range known {
		there[o.ID] = true
	}
	list, _ := os.ReadDir(s.ordersDir(""))
	for _, d := range list {
		if !there[d.Name()] {
			os.RemoveAll(s.ordersDir(d.Name()))
		}
	}
}

func (s *Studio) nextOrder() (store.Order, bool) {
	list, err := s.store.Orders(s.ctx, "")
	if err != nil {
		return store.Order{}, false
	}
	for _, o := range list {
		if o.State == Waiting || o.State == Running { // at work is none: how it ended could not be kept
			return o, true
		}
	}
	return store.Order{}, false
}

// serve makes one order and keeps what became of it. The error says that it could not be kept.
func (s *Studio) serve(o store.Order) (unkept error) {
	ctx, cancel := context.WithCancel(s.ctx)
	defer cancel()
	w := s.orders
	idle := make(chan struct{})
	w.mu.Lock()
	w.id, w.cancel, w.keep, w.share, w.look, w.idle = o.ID, cancel, false, 0, nil, idle
	w.mu.Unlock()
	// It may have been stopped or removed just now; and lists have no documents.
	o, err := s.store.Order(ctx, o.ID)
	switch {
	case err != nil || o.State != Waiting && o.State != Running:
		err = errGone
	default:
		if unkept = s.setOrder(&o, Running, ""); unkept == nil {
			err = s.makeOrder(ctx, &o)
		}
	}
	w.mu.Lock()
	kept := w.keep
	w.id, w.look = "", nil
	w.mu.Unlock()
	defer close(idle)
	switch {
	case unkept != nil || errors.Is(err, errGone):
		return unkept
	case err == nil:
		return s.setOrder(&o, Done, o.Note)
	case kept:
		return s.setOrder(&o, Stopped, "")
	case s.ctx.Err() != nil: // the program ends: it goes on when it is started again
		return s.setOrder(&o, Waiting, "")
	case errors.Is(err, syscall.ENOSPC), errors.Is(err, store.ErrFull):
		return s.setOrder(&o, Failed, fmt.Sprintf("The disk is full. The %d finished frames stay; make room and go on.", o.Done))
	default:
		var in *ErrInput
		var problem *stages.Problem
		note := "Something went wrong inside Bildhauer. What is finished stays."
		if errors.As(err, &in) || errors.As(err, &problem) {
			note = err.Error()
		} else {
			log.Printf("order %s: %v", o.ID, err)
		}
		return s.setOrder(&o, Failed, note)
	}
}

// makeOrder makes the files of an order that are not there yet.
func (s *Studio) makeOrder(ctx context.Context, o *store.Order) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("%v\n%s", p, debug.Stack())
		}
	}()
	var spec OrderSpec
	if err := json.Unmarshal(o.Spec, &spec); err != nil {
		return err
	}
	r, err := recipe.Open(o.Doc)
	if err != nil {
		return err
	}
	r.Scene.Camera.Aspect = fmt.Sprintf("%d:%d", spec.Width, spec.Height)
	dir := s.ordersDir(o.ID)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	half, _ := filepath.Glob(filepath.Join(dir, ".part-*")) // of a run that was killed
	for _, path := range half {
		os.Remove(path)
	}
	o.Done = 0
	for n := range spec.frames() {
		if _, err := os.Stat(filepath.Join(dir, spec.file(n))); err == nil {
			o.Done++
		}
	}
	p := Piece{ID: o.PieceID, Recipe: r}
	for n := range spec.frames() {
		path := filepath.Join(dir, spec.file(n))
		if _, err := os.Stat(path); err == nil {
			continue
		}
		begun := time.Now()
		if err := s.makeFrame(ctx, o, p, &spec, spec.frame(n), path); err != nil {
			return err
		}
		o.Done++
		o.Spent += time.Since(begun).Milliseconds()
		s.setOrder(o, Running, o.Note) // a frame that is not counted is there all the same
	}
	return nil
}

// lookEvery is how often a picture is shown while it is made.
const lookEvery = 1500 * time.Millisecond

// makeFrame makes one file.
func (s *Studio) makeFrame(ctx context.Context, o *store.Order, p Piece, spec *OrderSpec, frame float64, path string) error {
	shown, err := s.Lit(ctx, p, frame)
	if err != nil {
		return err
	}
	e := &stages.Encoding{Format: spec.Format, Raw: spec.Raw, Calm: spec.Calm, Passes: spec.Passes, Contrast: shown.Scene.Contrast}
	masks := 0
	if spec.Passes {
		masks = len(shown.MasksOf())
	}
	free, err := s.queue.Enter(ctx, stages.PictureBytes(spec.Width, spec.Height, masks)+shown.Bytes())
	if err != nil {
		return err
	}
	defer free()
	film := stages.NewFilm(&shown, spec.Width, spec.Height, 1+uint32(frame)*7919, e)
	w := s.orders
	w.mu.Lock()
	w.begun, w.share = time.Now(), 0
	w.mu.Unlock()
	looked, told := time.Time{}, time.Time{}
	// A picture that is stopped is finished as it is; the context would spoil it.
	still, release := context.WithCancel(context.WithoutCancel(ctx))
	defer release()
	stopSoon := context.AfterFunc(s.ctx, release)
	defer stopSoon()
	if spec.Clip {
		still = ctx
	}
	goal, err := spec.goal()
	if err != nil {
		return err
	}
	e.Exposure, err = stages.ExposeTo(still, &shown, frame, film, goal, func(have int, share float64) bool {
		w.mu.Lock()
		w.share = share
		w.mu.Unlock()
		if time.Since(told) > reportEvery*5 {
			told = time.Now()
			s.bus.ordered(o.PieceID)
		}
		if have > 0 && time.Since(looked) > lookEvery {
			s.lookAt(film, shown.Scene.Contrast, p.Recipe.Scene.Exposure)
			looked = time.Now()
		}
		return have == 0 || ctx.Err() == nil
	})
	if err != nil {
		return err
	}
	if ctx.Err() != nil { // stopped with something there
		o.Note = fmt.Sprintf("Stopped at %d samples a pixel.", film.Samples())
	}
	return writeWhole(path, func(f *os.File) error { return e.Write(f, film, &shown) })
}

// lookAt keeps a picture of the film as it is, at most 960 pixels wide.
func (s *Studio) lookAt(f *picture.Film, contrast string, exposure float64) {
	var out bytes.Buffer
	img := f.Picture().Smaller(960).Image(picture.ContrastOf(contrast), exposure)
	if png.Encode(&out, img) != nil {
		return
	}
	s.orders.mu.Lock()
	s.orders.look = out.Bytes()
	s.orders.mu.Unlock()
}

// writeWhole writes a file under another name first and gives it its own when all of it is
// on the disk.
func writeWhole(path string, write func(*os.File) error) error {
	f, err := os.CreateTemp(filepath.Dir(path), ".part-*")
	if err != nil {
		return err
	}
	err = write(f)
	if err == nil {
		err = f.Sync()
	}
	if end := f.Close(); err == nil {
		err = end
	}
	if err == nil {
		err = os.Rename(f.Name(), path)
	}
	if err != nil {
		os.Remove(f.Name())
	}
	return err
}
