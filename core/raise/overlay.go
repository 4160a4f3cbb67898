package raise

import (
	"context"
	"encoding/binary"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/mesh"
	"bildhauer/core/plane"
	"bildhauer/core/progress"
)

// Several heights over one plane become one: a recess takes the lower of two, a raised
// detail the higher, bodies that overlap the higher of their fronts and the lower of
// their backs. All outlines and all edges in which some height bends are put into one
// arrangement, so that every height is level or sloped evenly over each of its
// triangles; where two heights cross within a triangle or along an outline, the
// crossing is put in as well, and all is arranged once more. A corner then has the
// height that the rule gives there, which is one for all triangles of an area: whatever
// rounding does to the places, the surface does not tear and can't cross itself.

// layer is a piece of a body, or a detail of one, of an overlay.
type layer struct {
	upper, lower *Surface // lower is nil for a recess, both for one that goes through
	region       plane.Region
	within       []plane.Region // the layer ends where any of these does
	kind         kind
	body         int32 // layers of a body follow each other
	part         int32
}

// kind is what a layer is to its body.
type kind uint8

const (
	limb    kind = iota
	recess       // takes away what is higher
	through      // takes all away
	raised       // adds what is lower, down to what the body has there
)

// overlay is the heights of several layers, the first of which lies lowest.
type overlay struct {
	layers           []layer
	ar               *plane.Arrangement
	sides            [2][]*located // upper and lower surfaces of the layers
	covers           [][]int32     // of each label but 0, from 1: the layers, in their order
	labels           map[string]int32
	extra            [][2]plane.Point // crossings that are not in the arrangement yet
	slabs            []slab           // of all triangles, those over triangle k from first[k] to first[k+1]
	first            []int32
	meetings         []meeting // room, see loosenEdge
	posts            []post
	slim             map[plane.Point]bool // where needles give way, see slimAround
	lead             []int32              // of each triangle: itself, or that which a sliver belongs to
	turns            []uint8              // of each triangle: how often it gave way, see yield
	vicinity         vicinity             // room
	standing         int                  // posts that are in the arrangement
	shaded, unrolled bool
	step             plane.Step
}

// firstPost is the label of the first post; those of areas stay below.
const firstPost = 1 << 28

// rounds bounds how often all is arranged: once for the outlines, once with crossings, once with
// posts, and more where posts have met something; then what is low gives way (see yield).
const rounds = 8

// overlaid returns the solid of all layers together; crease is the angle in degrees from which corners
// of walls stay hard.
func overlaid(ctx context.Context, layers []layer, step plane.Step, crease float64) (*mesh.Mesh, error) {
	o := &overlay{layers: layers, step: step, slim: map[plane.Point]bool{}}
	if err := cutToSize(ctx, layers); err != nil {
		return nil, err
	}
	for i := range layers {
		if s := layers[i].upper; s != nil {
			o.shaded, o.unrolled = o.shaded || s.Normal != nil, o.unrolled || s.UV != nil
		}
		o.sides[0] = append(o.sides[0], locate(layers[i].upper))
		o.sides[1] = append(o.sides[1], locate(layers[i].lower))
	}
	o.begin(ctx)
	defer o.ar.Release()
	if err := o.part(ctx); err != nil {
		return nil, err
	}
	return o.closed(ctx, crease)
}

// part arranges all until nothing touches in an edge or a point any more. The error is a *TouchError
// where that does not come about.
func (o *overlay) part(ctx context.Context) error {
	poll := progress.NewPoll(ctx)
	for round := 0; ; round++ {
		if round < rounds {
			if err := o.arrange(); err != nil {
				return err
			}
		}
		o.lift(ctx)
		// The second round has the crossings of the first; what crosses after that
		// does so by less than rounding moves it.
		if round < crossings && o.findCrossings(ctx) {
			continue
		}
		touching := o.settled(poll)
		if len(touching) == 0 {
			return nil
		}
		if round < rounds-1 {
			o.setPosts(touching, round)
		} else if at, stuck := o.yield(touching); stuck {
			return o.touches(o.ar.Point(at))
		}
	}
}

// settled brings the heights that were lifted in order and returns the points at which something still
// touches.
func (o *overlay) settled(poll *progress.Poll) []int32 {
	o.gather(poll)
	o.settle(poll)
	at, stuck := o.loosened(poll)
	touching := o.pinches(poll)
	if stuck && !slices.Contains(touching, at) {
		touching = append(touching, at)
	}
	return touching
}

// TouchError says that parts of a solid touch in an edge or a point that can't be parted, and where, in mm.
type TouchError struct{ X, Y float64 }

func (t *TouchError) Error() string {
	return fmt.Sprintf("it touches itself at %.3f, %.3f mm, where it can't be parted", t.X, t.Y)
}

// touches returns the error for a place.
func (o *overlay) touches(p plane.Point) error {
	return &TouchError{o.step.MM(plane.Units(p.X)), o.step.MM(plane.Units(p.Y))}
}

// crossings is how often what crosses is looked for: along outlines it shows once the crossings
// within areas are edges.
const crossings = 2

// cutToSize lets layers end where they are to.
func cutToSize(ctx context.Context, layers []layer) (err error) {
	for i := range layers {
		l := &layers[i]
		for _, w := range l.within {
			if l.region, err = plane.CombineUntil(stopOf(ctx), l.region, w, plane.Intersect); err != nil {
				return err
			}
		}
	}
	return nil
}

// coverRule labels faces by the layers that cover them. Source 2i is the outline of
// layer i; edges in which it bends have the source 2i+1, which means nothing.
type coverRule struct {
	o    *overlay
	w    []int32
	in   []int32 // layers that cover the face, in their order
	post []int32 // those around the face
}

func (c *coverRule) Cross(s, delta int32) {
	if s&1 != 0 {
		return
	}
	if n := s/2 - int32(len(c.w)); n >= 0 {
		if delta > 0 {
			c.post = append(c.post, n)
		} else if i := slices.Index(c.post, n); i >= 0 {
			c.post = slices.Delete(c.post, i, i+1)
		}
		return
	}
	k := s / 2
	was := c.w[k] > 0
	c.w[k] += delta
	if is := c.w[k] > 0; is != was {
		at, _ := slices.BinarySearch(c.in, k)
		if is {
			c.in = slices.Insert(c.in, at, k)
		} else {
			c.in = slices.Delete(c.in, at, at+1)
		}
	}
}

func (c *coverRule) Label() int32 {
	if len(c.post) > 0 {
		last := slices.Max(c.post)
		if c.o.posts[last].notch {
			return 0
		}
		return firstPost + last
	}
	some := false
	for _, i := range c.in {
		some = some || c.o.layers[i].kind == limb || c.o.layers[i].kind == raised
	}
	if !some {
		return 0
	}
	key := keyOf(c.in)
	label, ok := c.o.labels[key]
	if !ok {
		c.o.covers = append(c.o.covers, slices.Clone(c.in))
		label = int32(len(c.o.covers))
		c.o.labels[key] = label
	}
	return label
}

// keyOf returns a list of numbers as a key of maps.
func keyOf(list []int32) string {
	var room [64]byte
	key := room[:0]
	for _, i := range list {
		key = binary.LittleEndian.AppendUint32(key, uint32(i))
	}
	return string(key)
}

// begin makes an arrangement of all outlines and bends.
func (o *overlay) begin(ctx context.Context) {
	o.ar = plane.NewArrangement()
	o.ar.Stop = stopOf(ctx)
	for i := range o.layers {
		o.ar.AddRegion(int32(2*i), o.layers[i].region)
		for side := range o.sides {
			o.sides[side][i].bends(func(p, q plane.Point) { o.ar.AddEdge(int32(2*i+1), p, q) })
		}
	}
}

// arrange weaves in the crossings and posts that were found since the last time.
func (o *overlay) arrange() error {
	for _, e := range o.extra {
		o.ar.AddEdge(int32(2*len(o.layers)+1), e[0], e[1])
	}
	o.extra = o.extra[:0]
	for ; o.standing < len(o.posts); o.standing++ {
		o.ar.AddLoop(int32(2*(len(o.layers)+o.standing)), o.posts[o.standing].ring())
	}
	o.covers, o.labels = nil, map[string]int32{}
	if err := o.ar.Build(); err != nil {
		return err
	}
	o.ar.Classify(&coverRule{o: o, w: make([]int32, len(o.layers))})
	o.absorb()
	return nil
}

// nearby is how far apart two heights over a triangle may be, in grid units, without their
// crossing being looked for: where surfaces run into each other it would wander about with
// every rounding.
const nearby = 2 * thinnest

// zeroLine notes the line through a triangle on which a function is zero that has the
// values d in its corners.
func (o *overlay) zeroLine(v [3]int32, d [3]float64) {
	var ends []plane.Point
	for c := range 3 {
		a, b := d[c], d[(c+1)%3]
		if a == 0 && (b > 0) != (d[(c+2)%3] > 0) && b != 0 && d[(c+2)%3] != 0 {
			ends = append(ends, o.ar.Point(v[c]))
		}
		if a < 0 && b > 0 || a > 0 && b < 0 {
			ends = append(ends, between(o.ar.Point(v[c]), o.ar.Point(v[(c+1)%3]), a/(a-b)))
		}
	}
	if len(ends) == 2 && ends[0] != ends[1] {
		o.extra = append(o.extra, [2]plane.Point{ends[0], ends[1]})
	}
}

func between(p, q plane.Point, s float64) plane.Point {
	return plane.Point{
		X: p.X + int32(math.Round(s*float64(q.X-p.X))),
		Y: p.Y + int32(math.Round(s*float64(q.Y-p.Y))),
	}
}
