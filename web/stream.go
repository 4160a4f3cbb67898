package web

import (
	"bufio"
	"compress/gzip"
	"context"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"hash/maphash"
	"math"
	"runtime/debug"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/parallel"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/units"
	"bildhauer/core/write"
	"bildhauer/studio"
)

// solidsRequest asks for bodies of a piece.
type solidsRequest struct {
	Parts   []string                    `json:"parts"`   // whose bodies are wanted; none for all
	Have    map[string]stages.Key       `json:"have"`    // keys of those that are there, by part
	Try     map[string]recipe.PartPatch `json:"try"`     // measures to try without keeping them
	Version string                      `json:"version"` // of the piece; "" as it is
	Edges   bool                        `json:"edges"`   // those of polygons are wanted, too
	Forms   map[string]string           `json:"forms"`   // forms of bodies that are there, by part
	Frame   *float64                    `json:"frame"`   // bodies are wanted as they are at it; none for at rest
}

// flushEvery is how long a body waits for others before it is sent: less than anybody sees. As many bytes as
// flushAt are sent at once: each piece of an answer costs a page some 1 ms.
const (
	flushEvery = 15 * time.Millisecond
	flushAt    = 256 << 10
)

// solids sends bodies of a piece one after the other, as they are made, until the client leaves. Each is a
// record: its length in bytes (uint32), then what record tells. A body that can't be made is a record of
// the head {"part", "error"} alone. When all are sent, they are looked at, and what was found is a record
// of the head {"checked"} alone.
func (h *server) solids(c fiber.Ctx) error {
	var r solidsRequest
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	p, err := h.pieceAt(ctx, c.Params("id"), r.Version)
	if err != nil {
		end()
		return err
	}
	packed := strings.Contains(c.Get("Accept-Encoding"), "gzip") && !here(c)
	records, ended := make(chan []byte, 8), make(chan error, 1)
	go func() {
		defer close(records)
		defer func() {
			if v := recover(); v != nil {
				ended <- fmt.Errorf("panic: %v\n%s", v, debug.Stack())
			}
		}()
		ended <- h.records(ctx, p, &r, records)
	}()
	first, some := <-records // until then, what is wrong is an answer of its own
	if !some {
		if err := <-ended; err != nil {
			end()
			return err
		}
		ended <- nil
	}
	c.Set("Content-Type", "application/octet-stream")
	c.Set("Cache-Control", "no-store")
	if packed {
		c.Set("Content-Encoding", "gzip")
	}
	return c.SendStreamWriter(func(w *bufio.Writer) {
		defer end()
		out := newFlow(w, packed)
		if some {
			out.send(first)
		}
		for record := range records {
			if out.send(record) != nil { // the client has left
				end()
			}
		}
		if err := <-ended; err != nil && ctx.Err() == nil {
			out.send(h.lost("", err))
		}
		out.close()
	})
}

// records makes the wanted bodies and puts them into a channel.
func (h *server) records(ctx context.Context, p studio.Piece, r *solidsRequest, to chan<- []byte) error {
	send := func(record []byte) error {
		select {
		case to <- record:
			return nil
		case <-ctx.Done():
			return ctx.Err()
		}
	}
	var mu sync.Mutex
	var made []*studio.Solid
	put := func(s *studio.Solid) error {
		mu.Lock()
		made = append(made, s)
		mu.Unlock()
		record, err := h.record(s, r.Edges, r.Forms[s.Part.ID])
		if err != nil {
			return err
		}
		return send(record)
	}
	failed := func(part string, err error) error {
		return send(h.lost(part, err))
	}
	if err := h.studio.Stream(ctx, p, studio.Wanted{Parts: r.Parts, Have: r.Have, Try: r.Try, Frame: r.Frame}, put, failed); err != nil {
		return err
	}
	if len(r.Try) > 0 || r.Frame != nil { // looked at when they are kept, or as they are at rest
		return nil
	}
	checked := map[string]solidCheck{}
	err := parallel.Each(len(made), func(k int) error {
		report, err := h.studio.Glance(ctx, p, made[k])
		mu.Lock()
		defer mu.Unlock()
		checked[made[k].Part.ID] = solidCheck{report.Watertight() || report.Nothing(), report.Open}
		return err
	})
	if err != nil || len(made) == 0 {
		return err
	}
	head, err := json.Marshal(fiber.Map{"checked": checked})
	if err != nil {
		return err
	}
	return send(framed(head))
}

// solidCheck is what a look at a body has found.
type solidCheck struct {
	Sound bool `json:"watertight"`
	Open  bool `json:"open"` // some side has no cap on purpose
}

// lost is the record of a body that can't be made.
func (h *server) lost(part string, err error) []byte {
	a, inside := wordsFor(err)
	if inside {
		a.text += fmt.Sprintf(" This is number %d in the diary.", h.studio.Diary().Write("raising a part", err))
	}
	head, _ := json.Marshal(fiber.Map{"part": part, "error": a.text, "kind": a.kind}) // texts can always be written
	return framed(head)
}

// here reports whether a request comes from this machine, and through nothing that others may be behind:
// packing takes longer than sending then.
func here(c fiber.Ctx) bool {
	return loopback(c.RequestCtx().RemoteAddr().String()) && c.Get("X-Forwarded-For") == "" && c.Get("Forwarded") == ""
}

// flow writes records, packed or not, and flushes them when none follows soon.
type flow struct {
	w   *bufio.Writer // before out, which is small
	out *bufio.Writer
	zip *gzip.Writer

	mu    sync.Mutex
	timer *time.Timer
	err   error
	over  bool
}

func newFlow(w *bufio.Writer, packed bool) *flow {
	f := &flow{w: bufio.NewWriterSize(w, flushAt), out: w}
	if packed {
		f.zip, _ = gzip.NewWriterLevel(f.w, gzip.BestSpeed)
	}
	f.timer = time.AfterFunc(time.Hour, f.flush)
	return f
}

func (f *flow) send(record []byte) error {
	f.mu.Lock()
	defer f.mu.Unlock()
	var length [4]byte
	binary.LittleEndian.PutUint32(length[:], uint32(len(record)))
	for _, b := range [][]byte{length[:], record} {
		if f.err != nil {
			break
		}
		if f.zip != nil {
			_, f.err = f.zip.Write(b)
		} else {
			_, f.err = f.w.Write(b)
		}
	}
	f.timer.Reset(flushEvery)
	return f.err
}

func (f *flow) flush() {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.over {
		return
	}
	if f.err == nil && f.zip != nil {
		f.err = f.zip.Flush()
	}
	f.pour()
}

func (f *flow) pour() {
	if f.err == nil {
		f.err = f.w.Flush()
	}
	if f.err == nil {
		f.err = f.out.Flush()
	}
}

func (f *flow) close() {
	f.timer.Stop()
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.err == nil && f.zip != nil {
		f.err = f.zip.Close()
	}
	f.pour()
	f.over = true
}

// record packs a body: the length of a JSON head, the head padded to four bytes; then positions (3 uint16 a
// corner, shares of the box in 65,535ths, padded to four bytes), normals (2 int16 a corner, octahedral:
// Meyer et al. 2010), triangles (3 indices) and, where they are wanted, the edges of polygons (2 indices),
// indices of 16 bits where there are no more corners, padded to four bytes. All after the positions is the
// form of the body, which is left out where the client has it already.
func (h *server) record(s *studio.Solid, withEdges bool, have string) ([]byte, error) {
	shown := *s.Mesh
	shown.Wrap = nil // the page paints no textures
	pos, nrm, _, idx := write.Corners(write.Part{Mesh: &shown})
	pos, nrm, idx = byOwner(s, pos, nrm, idx)
	var edges []uint32
	if withEdges {
		edges = edgesOf(s.Mesh, idx)
	}
	idx, runs := sorted(s, idx)
	got := s.Bodies[0]
	head := solidHead{
		Part: s.Part.ID, Key: s.Made.Key, Color: s.Part.Color.Hex(), Vertices: len(s.Mesh.Verts), Corners: len(pos),
		Triangles: len(s.Mesh.Tris), MS: units.Round(s.Took.Seconds()*1000, 1),
		Bottom: bottom(s.Mesh), Rise: rise(s.Mesh), High: units.Round(got.High, 4), Low: units.Round(got.Low, 4),
		Reach: units.Round(got.Reach, 4), Depth: units.Round(got.Depth, 4),
		Limits: append([]string{}, s.Limits...),
		Widest: units.Round(got.Widest, 4), Spots: append([]raise.Spot{}, got.Spots...), Runs: runs,
		Edges: len(edges) / 2, Wide: len(pos) > math.MaxUint16+1,
	}
	head.BoxLow, head.BoxSide = boxOfCorners(pos)
	form := packNormals(nrm, 4*(len(idx)+len(edges)))
	form = packIndices(packIndices(form, idx, head.Wide), edges, head.Wide)
	head.Form = strconv.FormatUint(maphash.Bytes(formSeed, form), 36)
	if head.Same = head.Form == have; head.Same {
		form = nil
	}
	raw, err := json.Marshal(head)
	if err != nil {
		return nil, err
	}
	return framed(raw, packPositions(&head, pos), form), nil
}

// formSeed makes the hashes of forms those of this run.
var formSeed = maphash.MakeSeed()

// byOwner gives each part of a solid corners of its own, so that each can have its colour.
func byOwner(s *studio.Solid, pos, nrm [][3]float32, idx []uint32) ([][3]float32, [][3]float32, []uint32) {
	if s.Mesh.Part == nil || len(s.Owners) < 2 {
		return pos, nrm, idx
	}
	type corner struct {
		at    uint32
		owner int32
	}
	owner := make([]int32, len(pos))
	for i := range owner {
		owner[i] = -1
	}
	more := map[corner]uint32{}
	for k := range idx {
		at, o := idx[k], s.Mesh.Part[k/3]
		if owner[at] < 0 {
			owner[at] = o
		}
		if owner[at] == o {
			continue
		}
		n, have := more[corner{at, o}]
		if !have {
			n = uint32(len(pos))
			more[corner{at, o}] = n
			pos, nrm, owner = append(pos, pos[at]), append(nrm, nrm[at]), append(owner, o)
		}
		idx[k] = n
	}
	return pos, nrm, idx
}

// framed puts a head, padded to four bytes, and what follows it behind the length of the head.
func framed(head []byte, rest ...[]byte) []byte {
	for len(head)%4 != 0 {
		head = append(head, ' ')
	}
	length := binary.LittleEndian.AppendUint32(nil, uint32(len(head)))
	return slices.Concat(append([][]byte{length, head}, rest...)...)
}

func boxOfCorners(pos [][3]float32) (lo, side [3]float32) {
	if len(pos) == 0 {
		return
	}
	lo, hi := pos[0], pos[0]
	for _, p := range pos {
		for i, v := range p {
			lo[i], hi[i] = min(lo[i], v), max(hi[i], v)
		}
	}
	for i := range side {
		side[i] = hi[i] - lo[i]
	}
	return lo, side
}

func packPositions(head *solidHead, pos [][3]float32) []byte {
	b := make([]byte, 0, 6*len(pos)+2)
	var k [3]float64
	for i, s := range head.BoxSide {
		if s > 0 {
			k[i] = math.MaxUint16 / float64(s)
		}
	}
	for _, p := range pos {
		for i, v := range p {
			b = binary.LittleEndian.AppendUint16(b, uint16(math.Round(float64(v-head.BoxLow[i])*k[i])))
		}
	}
	return padded(b)
}

// packNormals leaves room for more bytes.
func packNormals(nrm [][3]float32, more int) []byte {
	b := make([]byte, 0, 4*len(nrm)+more+8)
	for _, n := range nrm {
		x, y := octahedral(n)
		b = binary.LittleEndian.AppendUint16(b, uint16(x))
		b = binary.LittleEndian.AppendUint16(b, uint16(y))
	}
	return b
}

// octahedral folds a direction into a square.
func octahedral(n [3]float32) (x, y int16) {
	ax, ay, az := math.Abs(float64(n[0])), math.Abs(float64(n[1])), math.Abs(float64(n[2]))
	sum := ax + ay + az
	if sum == 0 {
		return 0, 0
	}
	u, v := float64(n[0])/sum, float64(n[1])/sum
	if n[2] < 0 {
		u, v = math.Copysign(1-math.Abs(v), u), math.Copysign(1-math.Abs(u), v)
	}
	return int16(math.Round(u * math.MaxInt16)), int16(math.Round(v * math.MaxInt16))
}

func packIndices(b []byte, idx []uint32, wide bool) []byte {
	for _, i := range idx {
		if wide {
			b = binary.LittleEndian.AppendUint32(b, i)
		} else {
			b = binary.LittleEndian.AppendUint16(b, uint16(i))
		}
	}
	return padded(b)
}

// padded fills up to a whole number of four bytes.
func padded(b []byte) []byte {
	for len(b)%4 != 0 {
		b = append(b, 0)
	}
	return b
}
