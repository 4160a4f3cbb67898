package stages

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/geom"
	"bildhauer/core/mend"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
)

// BeginInput is what mending begins with.
type BeginInput struct {
	Joined Made[*Joined]
	Choice map[string]bool
	Colors map[string]string
	Fonts  []Made[*font.Face]
}

// MendStep is the artwork after one mend, or before the first.
type MendStep struct {
	Work    *mend.Work
	Refused string // why the mend changed nothing
	Lost    bool   // it did not find what it is about
}

// Begin makes what the first mend is applied to.
var Begin = Stage[BeginInput, *MendStep]{
	Name: "begin",
	Run: func(_ context.Context, in BeginInput) (*MendStep, error) {
		s := in.Joined.Value.Sheet
		intake := recipe.Intake{Choice: in.Choice}
		take := make([]bool, len(s.Shapes))
		color := make([]artwork.Color, len(s.Shapes))
		for i := range s.Shapes {
			take[i], color[i] = intake.Included(s, i), s.Shapes[i].Color
			if c, ok := artwork.ParseHex(in.Colors[s.Shapes[i].Key]); ok {
				color[i] = c
			}
		}
		w := mend.New(s, take, color, 1)
		w.Fonts = &font.Library{}
		for _, f := range in.Fonts {
			w.Fonts.Added = append(w.Fonts.Added, f.Value)
		}
		return &MendStep{Work: w}, nil
	},
	Size: stepSize,
}

// stepSize counts the list of shapes; outlines are mostly shared.
func stepSize(s *MendStep) int64 { return 4096 + 420*int64(len(s.Work.Sheet.Shapes)) }

// MendInput is one mend and what it is applied to.
type MendInput struct {
	From    Made[*MendStep]
	Mend    recipe.Mend
	PxPerMM float64 // of the page at the final size; 0 where the mend does not mind
}

// Mend applies one mend. One that is refused leaves all as it was.
var Mend = Stage[MendInput, *MendStep]{
	Name: "mend",
	Run: func(_ context.Context, in MendInput) (*MendStep, error) {
		from := *in.From.Value.Work
		from.PxPerMM = in.PxPerMM
		w, err := mend.Apply(&from, &in.Mend)
		var no *mend.Refusal
		if errors.As(err, &no) {
			return &MendStep{Work: in.From.Value.Work, Refused: no.Text, Lost: no.Lost}, nil
		}
		if err != nil {
			return nil, err
		}
		return &MendStep{Work: w}, nil
	},
	Size: func(s *MendStep) int64 {
		n := stepSize(s)
		for i := range s.Work.Sheet.Shapes {
			n += 56 * int64(s.Work.Sheet.Shapes[i].Nodes()) / 8
		}
		return n
	},
}

// Mended is the artwork after all mends.
type Mended struct {
	Joined  Made[*Joined] // as later stages see it
	Step    Made[*MendStep]
	Steps   map[string]*MendStep // of each mend that is not off, by id
	PxPerMM float64              // about, of the page at the final size

	begin BeginInput
}

// FindInput is what findings depend on.
type FindInput struct {
	Step    Made[*MendStep]
	PxPerMM float64
	Limits  mend.Limits
}

// Find looks for findings.
var Find = Stage[FindInput, []mend.Finding]{
	Name: "find",
	Run: func(ctx context.Context, in FindInput) ([]mend.Finding, error) {
		w := *in.Step.Value.Work
		w.PxPerMM = in.PxPerMM
		return mend.Find(ctx, &w, in.Limits)
	},
	Size: func(f []mend.Finding) int64 { return 1024 + 1500*int64(len(f)) },
	Need: func(in FindInput) int64 { return 600 * int64(in.Step.Value.Work.Sheet.Nodes()) },
}

// Spot looks for findings without judging their proposals: for those who count them.
var Spot = Stage[FindInput, []mend.Finding]{
	Name: "spot",
	Run: func(ctx context.Context, in FindInput) ([]mend.Finding, error) {
		w := *in.Step.Value.Work
		w.PxPerMM = in.PxPerMM
		return mend.Spot(ctx, &w, in.Limits)
	},
	Size: Find.Size,
	Need: Find.Need,
}

// sizeRounds bounds how often mends are applied again because they changed the
// size that they are measured by (a background left out, a border added). Each
// round brings the scale nearer by the share that is not measured in mm.
const sizeRounds = 16

// The scale has settled within a micrometre of 10 cm. Where taking proposals changes it by more than a fiftieth,
// others count as findings than before.
const (
	scaleTol   = 1e-5
	scaleOther = 0.02
)

// Mended returns the artwork after all mends.
func (l *Line) Mended(ctx context.Context) (*Mended, error) {
	joined, err := l.Joined(ctx)
	if err != nil {
		return nil, err
	}
	return l.MendedOf(ctx, joined)
}

// MendedOf does the same for artwork that was joined already.
func (l *Line) MendedOf(ctx context.Context, joined Made[*Joined]) (*Mended, error) {
	in := chooseInput(joined, l.Recipe)
	begin := BeginInput{Joined: joined, Choice: in.Choice, Colors: in.Colors}
	list, sized := l.mends()
	for _, m := range list {
		if m.Do == "lettering" {
			fonts, err := l.Fonts(ctx)
			if err != nil {
				return nil, err
			}
			begin.Fonts = fonts
			break
		}
	}
	out := &Mended{Joined: joined, Steps: map[string]*MendStep{}, begin: begin}
	if len(list) == 0 {
		return out, nil
	}
	if err := l.beginMending(ctx, out); err != nil {
		return nil, err
	}
	first := out.Step
	for range sizeRounds {
		step, err := l.mendAll(ctx, first, list, out)
		if err != nil {
			return nil, err
		}
		out.Step = step
		is := l.pxPerMM(out.Step.Value.Work)
		settled := math.Abs(is-out.PxPerMM) <= scaleTol*out.PxPerMM
		out.PxPerMM = is
		if settled || !sized {
			break
		}
	}
	was := joined.Value
	out.Joined = Made[*Joined]{out.Step.Key, &Joined{
		Sheet: out.Step.Value.Work.Sheet, Pages: was.Pages, Names: was.Names,
	}}
	return out, nil
}

// beginMending makes the work that the first mend is applied to, where that was
// not done. Without mends only those who look at findings need it.
func (l *Line) beginMending(ctx context.Context, m *Mended) (err error) {
	if m.Step.Value != nil {
		return nil
	}
	if m.Step, err = Begin.Make(ctx, l.Keep, m.begin); err == nil {
		m.PxPerMM = l.pxPerMM(m.Step.Value.Work)
	}
	return err
}

// Work returns the mended artwork for those who look at it as such.
func (l *Line) Work(ctx context.Context, m *Mended) (*mend.Work, error) {
	if err := l.beginMending(ctx, m); err != nil {
		return nil, err
	}
	w := *m.Step.Value.Work
	w.PxPerMM = m.PxPerMM
	return &w, nil
}

// Unmended returns the artwork before the first mend, at the same scale.
func (l *Line) Unmended(ctx context.Context, m *Mended) (*mend.Work, error) {
	if err := l.beginMending(ctx, m); err != nil {
		return nil, err
	}
	first, err := Begin.Make(ctx, l.Keep, m.begin)
	if err != nil {
		return nil, err
	}
	w := *first.Value.Work
	w.PxPerMM = m.PxPerMM
	return &w, nil
}

// mends returns the mends in force as far as they matter, and whether the size
// matters to any.
func (l *Line) mends() (list []recipe.Mend, sized bool) {
	for _, m := range l.Recipe.Mends.List {
		if m.Off {
			continue
		}
		m.Name, m.Batch = "", ""
		list = append(list, m)
		sized = sized || mend.Sized(m.Do)
	}
	return list, sized
}

func (l *Line) mendAll(ctx context.Context, at Made[*MendStep], list []recipe.Mend, out *Mended) (Made[*MendStep], error) {
	for _, m := range list {
		next, err := Mend.Make(ctx, l.Keep, mendInput(at, m, out.PxPerMM))
		if err != nil {
			return at, err
		}
		out.Steps[m.ID] = next.Value
		at = next
	}
	return at, nil
}

// mendInput is a mend that is applied at a scale, if it minds that.
func mendInput(at Made[*MendStep], m recipe.Mend, pxPerMM float64) MendInput {
	if !mend.Sized(m.Do) {
		pxPerMM = 0
	}
	return MendInput{at, m, pxPerMM}
}

// pxPerMM returns the scale that the size section gives artwork.
func (l *Line) pxPerMM(w *mend.Work) float64 {
	box := geom.EmptyBox()
	for i := range w.Sheet.Shapes {
		if w.In[i] {
			box = box.Union(w.Sheet.Shapes[i].Box())
		}
	}
	size := &l.Recipe.Size
	px := spanOf(size.By, size.Between, size.Ratio(), box) / size.MM
	if !(px > 0) {
		return 1
	}
	return px
}

// leaveReach is how far a finding may move, as a share of the artwork, and still
// be the one that was left.
const leaveReach = 0.002

// IsLeft reports whether somebody left a finding of w as it is.
func IsLeft(f *mend.Finding, m *recipe.Mends, w *mend.Work) bool {
	far := w.Grid * (1 << 24) * leaveReach
	return slices.ContainsFunc(m.Left, func(l recipe.Leave) bool { return f.Near(l, far) })
}

// TakeAll takes the proposals of the chosen findings into the recipe, but for those that were left, until none
// is there that a fix puts right.
func (l *Line) TakeAll(ctx context.Context, joined Made[*Joined], choose mend.Choice) (mend.Taken, error) {
	var all mend.Taken
	batch := fmt.Sprintf("b%d", l.Recipe.Mends.Next+1)
	for range sizeRounds {
		m, err := l.MendedOf(ctx, joined)
		if err != nil {
			return all, err
		}
		w, err := l.Work(ctx, m)
		if err != nil {
			return all, err
		}
		ids := func() string {
			l.Recipe.Mends.Next++
			return fmt.Sprintf("m%d", l.Recipe.Mends.Next)
		}
		choose.Leave = func(f *mend.Finding) bool { return IsLeft(f, &l.Recipe.Mends, w) }
		before := len(l.Recipe.Mends.List)
		all, err = mend.TakeAll(ctx, w, mend.LimitsOf(&l.Recipe.Mends), ids, choose)
		l.Recipe.Mends.List = append(l.Recipe.Mends.List, all.Mends...)
		for i := range all.Mends {
			l.Recipe.Mends.List[before+i].Batch = batch
		}
		other := math.Abs(l.pxPerMM(all.Work)/m.PxPerMM - 1)
		switch {
		case err != nil:
		case other > scaleTol:
			err = l.dropIdle(ctx, joined, batch)
		default:
			err = l.keepSteps(ctx, m, &all)
		}
		// What was left out may have changed the scale, and with it what counts.
		if err != nil || len(all.Mends) == 0 || other < scaleOther {
			return all, err
		}
	}
	return all, nil
}

// keepSteps keeps what taking mends led to, which is what they come to when they are done one after the other.
func (l *Line) keepSteps(ctx context.Context, m *Mended, all *mend.Taken) error {
	at := m.Step
	for i, x := range all.Mends {
		x.Name, x.Batch = "", ""
		next, err := Mend.Given(ctx, l.Keep, mendInput(at, x, m.PxPerMM), &MendStep{Work: all.Steps[i]})
		if err != nil {
			return err
		}
		at = next
	}
	return nil
}

// dropIdle drops mends of a batch that do nothing when all are done one after the other at the scale that they
// lead to.
func (l *Line) dropIdle(ctx context.Context, joined Made[*Joined], batch string) error {
	for range 3 {
		m, err := l.MendedOf(ctx, joined)
		if err != nil {
			return err
		}
		before := len(l.Recipe.Mends.List)
		l.Recipe.Mends.List = slices.DeleteFunc(l.Recipe.Mends.List, func(x recipe.Mend) bool {
			step := m.Steps[x.ID]
			return x.Batch == batch && step != nil && step.Refused != ""
		})
		if len(l.Recipe.Mends.List) == before {
			break
		}
	}
	return nil
}

// Findings returns what there is to mend on the artwork as it is mended so far.
func (l *Line) Findings(ctx context.Context, m *Mended) (Made[[]mend.Finding], error) {
	in, err := l.findInput(ctx, m)
	if err != nil {
		return Made[[]mend.Finding]{}, err
	}
	return Find.Make(ctx, l.Keep, in)
}

// Spots returns the same before it is known what their proposals do.
func (l *Line) Spots(ctx context.Context, m *Mended) ([]mend.Finding, error) {
	in, err := l.findInput(ctx, m)
	if err != nil {
		return nil, err
	}
	made, err := Spot.Make(ctx, l.Keep, in)
	return made.Value, err
}

// FindingsKey returns the key of the findings without looking for them.
func (l *Line) FindingsKey(ctx context.Context, m *Mended) (Key, error) {
	in, err := l.findInput(ctx, m)
	return Find.Key(in), err
}

func (l *Line) findInput(ctx context.Context, m *Mended) (FindInput, error) {
	err := l.beginMending(ctx, m)
	return FindInput{Step: m.Step, PxPerMM: m.PxPerMM, Limits: mend.LimitsOf(&l.Recipe.Mends)}, err
}

// SeeInput is what is looked at as a whole.
type SeeInput struct {
	Step    Made[*MendStep]
	PxPerMM float64
}

// See looks at mended artwork as a whole.
var See = Stage[SeeInput, mend.Seen]{
	Name: "see",
	Run: func(ctx context.Context, in SeeInput) (mend.Seen, error) {
		w := *in.Step.Value.Work
		w.PxPerMM = in.PxPerMM
		return mend.See(ctx, &w)
	},
	Size: func(s mend.Seen) int64 {
		n := int64(512)
		for _, l := range s.Loops {
			n += 40 + 16*int64(len(l.Points))
		}
		return n
	},
}

// Seen returns what the artwork comes to before the mends and after.
func (l *Line) Seen(ctx context.Context, m *Mended) (before, after mend.Seen, err error) {
	if err := l.beginMending(ctx, m); err != nil {
		return before, after, err
	}
	first, err := Begin.Make(ctx, l.Keep, m.begin)
	if err != nil {
		return before, after, err
	}
	b, err := See.Make(ctx, l.Keep, SeeInput{first, m.PxPerMM})
	if err != nil {
		return before, after, err
	}
	a, err := See.Make(ctx, l.Keep, SeeInput{m.Step, m.PxPerMM})
	return b.Value, a.Value, err
}
