package web

import (
	"math"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/geom"
	"bildhauer/core/mend"
	"bildhauer/core/read/font"
	"bildhauer/core/recipe"
	"bildhauer/core/write"
	"bildhauer/studio"
)

// outlineState is a shape as the Mend step draws it. Places are px of the page.
type outlineState struct {
	Key      string     `json:"key"`
	Name     string     `json:"name"`
	Color    string     `json:"color"`
	Path     string     `json:"path"`
	EvenOdd  bool       `json:"evenOdd,omitempty"`
	Stroke   bool       `json:"stroke,omitempty"`
	Layer    int        `json:"layer"`
	Contours int        `json:"contours"`
	Nodes    int        `json:"nodes"`
	Box      [4]float64 `json:"box"`
}

type findingState struct {
	Kind    string     `json:"kind"`
	Shapes  []string   `json:"shapes"`
	At      [2]float64 `json:"at"`
	Box     [4]float64 `json:"box"`
	Measure string     `json:"measure"`
	Left    bool       `json:"left"`
	Fixes   []fixState `json:"fixes"`

	Class    string  `json:"class"`
	Effect   string  `json:"effect"`             // of the proposal, in words
	Share    float64 `json:"share"`              // of the picture that it changes
	Copes    bool    `json:"copes,omitempty"`    // raising does the same by itself
	Quiet    bool    `json:"quiet,omitempty"`    // it may well be meant
	Together float64 `json:"together,omitempty"` // share that the kind changes, where that is why it is asked for
	Fails    string  `json:"fails,omitempty"`
	More     int     `json:"more,omitempty"` // of its kind, beyond those that are shown
}

type fixState struct {
	Will string        `json:"will"`
	Do   []recipe.Mend `json:"do"`
}

type mendState struct {
	recipe.Mend
	Refused string `json:"refused,omitempty"`
	Lost    bool   `json:"lost,omitempty"`
}

type seenState struct {
	Contours int     `json:"contours"`
	Nodes    int     `json:"nodes"`
	Area     float64 `json:"area"` // mm2
	Pieces   int     `json:"pieces"`
}

type loopState struct {
	Path  string `json:"path"`
	Depth int    `json:"depth"`
}

func seen(s mend.Seen) seenState { return seenState{s.Contours, s.Nodes, s.AreaMM2, s.Pieces} }

// mending sends what the Mend step shows.
func (h *server) mending(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	m, err := h.studio.Mending(ctx, p)
	if err != nil {
		return err
	}
	box := geom.EmptyBox()
	for i := range m.Work.Sheet.Shapes {
		if m.Work.In[i] {
			box = box.Union(m.Work.Sheet.Shapes[i].Box())
		}
	}
	if box.Empty() {
		box = m.Work.Sheet.Page
	}
	tol := math.Max(box.W(), box.H()) / 8000
	kinds := make([]fiber.Map, len(mend.Kinds))
	for i, k := range mend.Kinds {
		kinds[i] = fiber.Map{"name": k.Name, "title": k.Title, "matters": k.Matters, "harm": k.Harm}
	}
	limits := map[string]float64{}
	for _, name := range recipe.MendLimits() {
		limits[name] = p.Recipe.Mends.Limit(name)
	}
	fonts := font.Shipped()
	for _, f := range p.Recipe.Sheets.Fonts {
		fonts = append([]string{f.Family}, fonts...)
	}
	return c.JSON(fiber.Map{
		"rev": p.Rev, "key": m.Key, "pxPerMm": m.Work.PxPerMM, "box": boxOf(box), "kinds": kinds, "limits": limits,
		"shapes": outlines(m.Work, tol), "was": pathsOf(m.First, tol), "fonts": fonts,
		"findings": findingStates(m), "mends": mendStates(p, m), "loops": loopStates(m.After),
		"before": seen(m.Before), "after": seen(m.After),
	})
}

// outlines draws the shapes that take part.
func outlines(w *mend.Work, tol float64) []outlineState {
	out := []outlineState{}
	for i := range w.Sheet.Shapes {
		if !w.In[i] {
			continue
		}
		sh := &w.Sheet.Shapes[i]
		out = append(out, outlineState{
			Key: sh.Key, Name: sh.Name, Color: w.Color[i].Hex(), Path: shapePath(sh, tol), EvenOdd: sh.EvenOdd,
			Stroke: sh.Stroke != nil, Layer: sh.Group, Contours: len(sh.Contours), Nodes: sh.Nodes(), Box: boxOf(sh.Box()),
		})
	}
	return out
}

// pathsOf draws all shapes that take part in one path for each fill rule.
func pathsOf(w *mend.Work, tol float64) []fiber.Map {
	out := []fiber.Map{}
	for i := range w.Sheet.Shapes {
		if w.In[i] {
			sh := &w.Sheet.Shapes[i]
			out = append(out, fiber.Map{"path": shapePath(sh, tol), "color": w.Color[i].Hex(), "evenOdd": sh.EvenOdd})
		}
	}
	return out
}

func findingStates(m *studio.Mending) []findingState {
	out := make([]findingState, len(m.Findings))
	for i, f := range m.Findings {
		s := findingState{
			Kind: f.Kind, Shapes: f.Shapes, At: [2]float64{f.At.X, f.At.Y}, Box: boxOf(f.Box), Measure: f.Measure, Left: m.Left[i],
			Class: f.Class, Effect: f.Effect.Words(), Share: f.Effect.Share, Copes: f.Copes, Quiet: f.Quiet, Together: f.Together, More: f.More,
		}
		if f.Fails != "" {
			s.Effect, s.Fails = "", sentenceOf(f.Fails)
		}
		for _, x := range f.Fixes {
			s.Fixes = append(s.Fixes, fixState{x.Will, x.Do})
		}
		out[i] = s
	}
	return out
}

func mendStates(p studio.Piece, m *studio.Mending) []mendState {
	out := make([]mendState, len(p.Recipe.Mends.List))
	for i, x := range p.Recipe.Mends.List {
		out[i].Mend = x
		if step := m.Steps[x.ID]; step != nil {
			out[i].Refused, out[i].Lost = step.Refused, step.Lost
			if step.Refused != "" {
				out[i].Refused = sentenceOf(step.Refused)
			} else if m.Work.Overtaken(&x) {
				out[i].Refused = "A later mend took its shape away: it changes nothing any more."
			}
		}
	}
	return out
}

func loopStates(s mend.Seen) []loopState {
	out := make([]loopState, len(s.Loops))
	for i, l := range s.Loops {
		at := func(k int) geom.Vec { return l.Points[k] }
		out[i] = loopState{string(write.LoopPath(nil, len(l.Points), at, write.Fixed(3))), l.Depth}
	}
	return out
}

// nodes sends the nodes of one shape: of each contour x, y, the handle before,
// the handle behind, and whether the segment behind is straight.
func (h *server) nodes(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	w, err := h.studio.Mended(ctx, p)
	if err != nil {
		return err
	}
	i := w.Find(c.Query("shape"))
	if i < 0 {
		return &studio.ErrInput{Text: "This shape is not in the artwork any more."}
	}
	sh := &w.Sheet.Shapes[i]
	type contour struct {
		Closed   bool         `json:"closed"`
		At       [][6]float64 `json:"at"`
		Straight []bool       `json:"straight"`
	}
	out := []contour{}
	for _, ct := range sh.Contours {
		path := mend.PathOf(ct.Transform(sh.Matrix))
		one := contour{Closed: path.Closed, Straight: path.Straight}
		for k, v := range path.At {
			in, on := path.In[k], path.Out[k]
			one.At = append(one.At, [6]float64{v.X, v.Y, in.X, in.Y, on.X, on.Y})
		}
		out = append(out, one)
	}
	return c.JSON(fiber.Map{"key": sh.Key, "contours": out})
}

// takeFindings takes the proposals of all findings of some kinds.
func (h *server) takeFindings(c fiber.Ctx) error {
	var r struct {
		Kinds   []string `json:"kinds"`
		Classes []string `json:"classes"` // none for what is never a guess
	}
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.TakeAll(ctx, c.Params("id"), base(c), mend.Choice{Kinds: r.Kinds, Classes: r.Classes})
	if err != nil {
		return err
	}
	return h.sendState(ctx, c, p)
}

// openFindings tells how many findings are open, for the mark in the rail.
func (h *server) openFindings(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	n, err := h.studio.OpenFindings(ctx, p)
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"open": n, "mends": len(p.Recipe.Mends.List)})
}
