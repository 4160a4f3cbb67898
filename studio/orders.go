package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/store"
)

// OrderSpec is a picture, or frames of a clip, that is to be made.
type OrderSpec struct {
	Shot
	Format string `json:"format"` // one of stages.PictureFormats
	Raw    bool   `json:"raw"`    // the noise stays
	Calm   bool   `json:"calm"`   // it goes from linear light, too
	Passes bool   `json:"passes"` // with an EXR
	Clip   bool   `json:"clip"`   // frames From to To, not one picture
	From   int    `json:"from"`
	To     int    `json:"to"`
}

// The states of an order.
const (
	Waiting = "waiting"
	Running = "running"
	Done    = "done"
	Stopped = "stopped" // by a person; it can go on
	Failed  = "failed"  // for the reason in its note; it can be tried again
)

// Order is a picture or a clip that was ordered.
type Order struct {
	ID      string
	Piece   string
	Name    string // of the piece when it was ordered
	Spec    OrderSpec
	State   string
	Note    string  // why it stopped
	Done    int     // finished frames
	Total   int     // of them
	Share   float64 // of the frame at work, 0 to 1
	Left    time.Duration
	Created time.Time
	Bytes   int64 // of its files
	Rate    int   // frames a second
}

// orderSheet is what is kept of an order beside the document, so that lists need not open
// that.
type orderSheet struct {
	OrderSpec
	Name string `json:"name"` // of the piece
	Rate int    `json:"rate"` // frames a second
}

// Bounds of orders: how many there are for a piece, and what their files take together.
const (
	mostOrders  = 100
	ordersBytes = 20 << 30
)

// frames returns how many files an order has.
func (s *OrderSpec) frames() int {
	if s.Clip {
		return s.To - s.From + 1
	}
	return 1
}

// frame returns the number of the frame of its n-th file.
func (s *OrderSpec) frame(n int) float64 {
	if s.Clip {
		return float64(s.From + n)
	}
	return s.Frame
}

// bytes estimates what the files take: PNG and HDR up to half of their light, EXR a little
// less than all of it.
func (s *OrderSpec) bytes() int64 {
	pixel := map[string]int64{"png8": 3, "exr": 8, "hdr": 4}[s.Format]
	if pixel == 0 {
		pixel = 6
	}
	if s.Passes {
		pixel *= 4
	}
	return int64(s.Width) * int64(s.Height) * pixel * int64(s.frames())
}

func (s *OrderSpec) check(m *recipe.Motion, parts int) error {
	if err := s.Shot.check(); err != nil {
		return err
	}
	if !slices.Contains(stages.PictureFormats, s.Format) {
		return input("pictures are written as %s", strings.Join(stages.PictureFormats, ", "))
	}
	if s.Passes && s.Format != "exr" {
		return input("passes go into an exr file")
	}
	if need := stages.PictureBytes(s.Width, s.Height, parts); s.Passes && need > shotBytes {
		return input("a picture of %d by %d pixels with its masks takes %d MB of memory, here there are %d",
			s.Width, s.Height, need>>20, shotBytes>>20)
	}
	if !s.Clip {
		return nil
	}
	if m.Frames == 0 {
		return input("this piece does not move yet: give it a move or a duration first")
	}
	if s.From < 0 || s.To < s.From || s.To >= m.Frames {
		return input("the clip has the frames 0 to %d, not %d to %d", m.Frames-1, s.From, s.To)
	}
	return nil
}

// Order orders a picture or a clip of a piece as it is now. It is made when those before it
// are done.
func (s *Studio) Order(ctx context.Context, p Piece, spec OrderSpec) (Order, error) {
	if spec.Format == "" {
		spec.Format = "png"
	}
	shown, err := s.Shown(ctx, p, spec.frame(0))
	if err != nil {
		return Order{}, err
	}
	if err := spec.check(&p.Recipe.Scene.Motion, len(shown.MasksOf())); err != nil {
		return Order{}, err
	}
	have, err := s.store.Orders(ctx, p.ID)
	if err != nil {
		return Order{}, err
	}
	if len(have) >= mostOrders {
		return Order{}, input("this piece has %d results; remove some before ordering more", len(have))
	}
	if used := folderBytes(s.ordersDir("")); used+spec.bytes() > ordersBytes {
		return Order{}, input("this would take up to %d MB; results already take %d MB of the %d MB that there are for them. Remove some",
			spec.bytes()>>20, used>>20, int64(ordersBytes)>>20)
	}
	raw, err := json.Marshal(orderSheet{spec, p.Recipe.Name, p.Recipe.Scene.Motion.PerSecond()})
	if err != nil {
		return Order{}, err
	}
	doc, err := p.Recipe.MarshalJSON()
	if err != nil {
		return Order{}, err
	}
	o := store.Order{
		ID: newID(), PieceID: p.ID, Spec: raw, Doc: doc, State: Waiting, Total: spec.frames(), CreatedAt: time.Now().UnixMilli(),
	}
	if err := s.store.AddOrder(ctx, o); err != nil {
		return Order{}, err
	}
	s.orders.poke()
	s.bus.ordered(p.ID)
	return s.orderOf(o), nil
}

// Orders returns the orders of a piece, the latest first.
func (s *Studio) Orders(ctx context.Context, piece string) ([]Order, error) {
	list, err := s.store.Orders(ctx, piece)
	if err != nil {
		return nil, err
	}
	out := make([]Order, 0, len(list))
	for _, o := range slices.Backward(list) {
		out = append(out, s.orderOf(o))
	}
	return out, nil
}

// orderOf tells what is known of an order.
func (s *Studio) orderOf(o store.Order) Order {
	out := Order{
		ID: o.ID, Piece: o.PieceID, State: o.State, Note: o.Note, Done: o.Done, Total: o.Total, Created: time.UnixMilli(o.CreatedAt),
		Bytes: folderBytes(s.ordersDir(o.ID)),
	}
	var sheet orderSheet
	json.Unmarshal(o.Spec, &sheet) // written by Order
	out.Spec, out.Name, out.Rate = sheet.OrderSpec, sheet.Name, sheet.Rate
	if o.State == Running {
		out.Share, out.Left = s.orders.progress(o)
	}
	if why, gaveUp := s.orders.trouble(); why != "" && (o.State == Waiting || o.State == Running) {
		if out.Note = why; gaveUp {
			out.State = Failed
		}
	}
	return out
}

// OrderRecipe returns the decisions that an order was made by.
func (s *Studio) OrderRecipe(ctx context.Context, piece, id string) (recipe.Recipe, error) {
	o, err := s.orderIn(ctx, piece, id)
	if err != nil {
		return recipe.Recipe{}, err
	}
	return recipe.Open(o.Doc)
}

func (s *Studio) orderIn(ctx context.Context, piece, id string) (store.Order, error) {
	o, err := s.store.Order(ctx, id)
	if err == nil && o.PieceID != piece {
		err = store.ErrNotFound
	}
	if errors.Is(err, store.ErrNotFound) {
		err = input("this result is not there any more")
	}
	return o, err
}

// StopOrder ends the work on an order. Finished frames stay; of a picture what is there
// becomes the result.
func (s *Studio) StopOrder(ctx context.Context, piece, id string) error {
	o, err := s.orderIn(ctx, piece, id)
	if err != nil {
		return err
	}
	if o.State == Waiting || o.State == Running {
		s.orders.stop(o.ID, func() { err = s.setOrder(&o, Stopped, "") })
	}
	return err
}

// ResumeOrder goes on with an order that stopped.
func (s *Studio) ResumeOrder(ctx context.Context, piece, id string) error {
	o, err := s.orderIn(ctx, piece, id)
	if err != nil {
		return err
	}
	if o.State == Stopped || o.State == Failed {
		err = s.setOrder(&o, Waiting, "")
	}
	s.orders.poke() // also for one that waits because it could not be kept
	return err
}

// RemoveOrder forgets an order and its files.
func (s *Studio) RemoveOrder(ctx context.Context, piece, id string) error {
	o, err := s.orderIn(ctx, piece, id)
	if err != nil {
		return err
	}
	s.orders.stop(id, func() {})
	if err := s.store.DropOrder(ctx, o.ID); err != nil {
		return err
	}
	s.bus.ordered(piece)
	return os.RemoveAll(s.ordersDir(o.ID))
}

func (s *Studio) setOrder(o *store.Order, state, note string) error {
	o.State, o.Note = state, note
	err := s.store.SetOrder(context.WithoutCancel(s.ctx), *o)
	s.bus.ordered(o.PieceID)
	return err
}

// ordersDir is the folder of an order's files, or of all.
func (s *Studio) ordersDir(id string) string { return filepath.Join(s.home, "results", id) }

// OrderFiles returns the finished files of an order, in the order of their frames.
func (s *Studio) OrderFiles(ctx context.Context, piece, id string) (o Order, paths []string, err error) {
	row, err := s.orderIn(ctx, piece, id)
	if err != nil {
		return Order{}, nil, err
	}
	o = s.orderOf(row)
	for n := range o.Total {
		path := filepath.Join(s.ordersDir(id), o.Spec.file(n))
		if _, err := os.Stat(path); err == nil {
			paths = append(paths, path)
		}
	}
	return o, paths, nil
}

// file returns the name of its n-th file.
func (s *OrderSpec) file(n int) string {
	ending := strings.TrimSuffix(s.Format, "8")
	if !s.Clip {
		return "picture." + ending
	}
	return fmt.Sprintf("frame-%05d.%s", s.From+n, ending)
}

// folderBytes adds up the files of a folder.
func folderBytes(dir string) (sum int64) {
	filepath.WalkDir(dir, func(_ string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return nil
		}
		if info, err := d.Info(); err == nil {
			sum += info.Size()
		}
		return nil
	})
	return sum
}
