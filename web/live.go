package web

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"image"
	"image/png"
	"math"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/stages"
	"bildhauer/core/terms"
	"bildhauer/core/units"
)

// liveLook is what faces are made of, linear.
type liveLook struct {
	Base      picture.RGB `json:"base"`
	Glow      picture.RGB `json:"glow"`
	Metal     float64     `json:"metal"`
	Rough     float64     `json:"rough"`
	Coat      float64     `json:"coat"`
	CoatRough float64     `json:"coatRough"`
	Clear     float64     `json:"clear"`
	Index     float64     `json:"index"`
	Deep      float64     `json:"deep"` // mm; 0 for thin walls
	Grain     float64     `json:"grain"`
	Along     geom.Vec3   `json:"along"`
	Drawn     bool        `json:"drawn"`
}

// liveLight is a lamp as the view lights with it: light at full distance.
type liveLight struct {
	Kind   string      `json:"kind"`
	At     geom.Vec3   `json:"at"`     // of the sun: the direction to it
	Across geom.Vec3   `json:"across"` // of a panel: from the middle to its sides
	Up     geom.Vec3   `json:"up"`
	Aim    geom.Vec3   `json:"aim"`   // of a spot: where it shines
	Angle  float64     `json:"angle"` // radians
	Radius float64     `json:"radius"`
	Light  picture.RGB `json:"light"` // radiance, intensity or irradiance
}

// liveFrame is a frame: poses are rows of a matrix, its translation, and whether it shows.
type liveFrame struct {
	Camera   picture.Camera         `json:"camera"`
	Exposure float64                `json:"exposure"`
	Poses    [][13]float64          `json:"poses"`
	Lights   []liveLight            `json:"lights"`
	Looks    []map[string]liveLook  `json:"looks,omitempty"` // of each body: by part and face
	Grown    map[string]show.Growth `json:"grown,omitempty"` // of each body, where any grows
	Around   float64                `json:"around"`          // degrees by which the surroundings turned since the first
	Lamps    []recipe.Lamp          `json:"lamps"`
}

func lookOf(m *picture.Material) liveLook {
	return liveLook{
		Base: m.Base, Glow: m.Glow, Metal: m.Metal, Rough: m.Rough, Coat: m.Coat, CoatRough: m.CoatRough, Clear: m.Clear,
		Index: m.Index, Deep: m.Inside(),
		Grain: m.Grain.Size, Along: m.Grain.Along, Drawn: m.Drawn != nil,
	}
}

func lightOf(l picture.Light) liveLight {
	switch l := l.(type) {
	case *picture.Panel:
		return liveLight{Kind: "panel", At: l.Mid, Across: l.Across, Up: l.Up, Light: l.Radiance}
	case *picture.Spot:
		return liveLight{Kind: "spot", At: l.At, Aim: l.Aim, Angle: l.Angle, Radius: l.Radius, Light: l.Intensity}
	case *picture.Sun:
		return liveLight{Kind: "sun", At: l.From, Angle: l.Angle, Light: l.Irradiance}
	}
	return liveLight{}
}

// grownOf tells what makes other solids of bodies at a frame; nil where nothing does.
func grownOf(shown *stages.Shown, motion *recipe.Motion, frame float64) map[string]show.Growth {
	all := show.Grown(motion, frame)
	if all == nil {
		return nil
	}
	out := map[string]show.Growth{}
	for i := range shown.Bodies {
		id := shown.Bodies[i].Owners[0].ID
		out[id] = show.GrowthOf(all, id)
	}
	return out
}

// frameOf tells a frame; looks are told where they are asked for.
func frameOf(t *show.Still, shown *stages.Shown, motion *recipe.Motion, frame float64, looks bool) liveFrame {
	out := liveFrame{
		Camera: t.Camera, Exposure: t.Scene.Exposure, Poses: [][13]float64{}, Lights: []liveLight{}, Grown: grownOf(shown, motion, frame),
		Around: t.Scene.Surroundings.Turn, Lamps: t.Scene.Lamps,
	}
	for i := range t.Poses {
		p := &t.Poses[i]
		var row [13]float64
		for r, v := range p.Rows {
			row[4*r], row[4*r+1], row[4*r+2] = v.X*p.Size, v.Y*p.Size, v.Z*p.Size
		}
		row[3], row[7], row[11] = p.By.X, p.By.Y, p.By.Z
		if p.Shown {
			row[12] = 1
		}
		for k := range row {
			row[k] = units.Round(row[k], 6)
		}
		out.Poses = append(out.Poses, row)
	}
	for _, l := range t.Lights() {
		out.Lights = append(out.Lights, lightOf(l))
	}
	if !looks {
		return out
	}
	for _, b := range shown.Shapes() {
		of := map[string]liveLook{}
		for i := range b.Owners {
			for _, face := range terms.Names("faces")[1:] {
				m := t.Material(&b.Owners[i], face)
				of[b.Owners[i].ID+" "+face] = lookOf(&m)
			}
		}
		out.Looks = append(out.Looks, of)
	}
	return out
}

// floorOf tells a backdrop that has a form: corners and normals, 3 figures each.
func floorOf(list []picture.Surface) fiber.Map {
	if len(list) == 0 {
		return nil
	}
	var corners, normals []float64
	for k := range list[0].Corners {
		for i := range 3 {
			p, n := list[0].Corners[k][i], list[0].Normals[k][i]
			corners, normals = append(corners, p.X, p.Y, p.Z), append(normals, n.X, n.Y, n.Z)
		}
	}
	return fiber.Map{"corners": corners, "normals": normals, "look": lookOf(&list[0].Material)}
}

// live sends what a piece shows at the frames from to to.
func (h *server) live(c fiber.Ctx) error {
	from, err := strconv.ParseFloat(c.Query("from", "0"), 64)
	if err != nil {
		from = 0
	}
	to, err := strconv.ParseFloat(c.Query("to"), 64)
	if err != nil {
		to = from
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	live, err := h.studio.Live(ctx, p, from, to)
	if err != nil {
		return err
	}
	m := &p.Recipe.Scene.Motion
	changing := false
	for i := range m.Tracks {
		changing = changing || m.Tracks[i].What == "glow" || m.Tracks[i].What == "colour"
	}
	first := live.Stills[0]
	lo, hi := first.Rest()
	frames := make([]liveFrame, len(live.Stills))
	for i, t := range live.Stills {
		frames[i] = frameOf(t, &live.Shown, m, from+float64(i), i == 0 || changing)
	}
	var bodies []string
	for i := range live.Shown.Bodies {
		bodies = append(bodies, live.Shown.Bodies[i].Owners[0].ID)
	}
	drawn := map[string][2][3]float64{} // parts with gradients, and the boxes of their bodies
	for i := range live.Shown.Bodies {
		b := &live.Shown.Bodies[i]
		for _, o := range b.Owners {
			if len(o.Drawing) > 0 {
				lo, hi := b.Solid.Value.Mesh.Box()
				drawn[o.ID] = [2][3]float64{lo, hi}
			}
		}
	}
	floor := first.Floor()
	c.Set("Cache-Control", "no-store")
	return c.JSON(fiber.Map{
		"floor": floorOf(floor), "lamps": show.LampsOf(&p.Recipe.Scene, first.Reach), "low": first.Low, "reach": first.Reach,
		"from": from, "frames": frames, "bodies": bodies, "lo": lo, "hi": hi, "drawn": drawn,
	})
}

// drawnSide is how many pixels the gradients of a part are drawn with for the view.
const drawnSide = 256

// drawn sends the gradients of a part over the box of its body as a PNG file.
func (h *server) drawn(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	live, err := h.studio.Live(ctx, p, 0, 0)
	if err != nil {
		return err
	}
	img := image.NewNRGBA(image.Rect(0, 0, drawnSide, drawnSide))
	for i := range live.Shown.Bodies {
		b := &live.Shown.Bodies[i]
		for _, o := range b.Owners {
			if o.ID != c.Params("part") || len(o.Drawing) == 0 {
				continue
			}
			lo, hi := b.Solid.Value.Mesh.Box()
			for k := range drawnSide * drawnSide {
				x, y := (float64(k%drawnSide)+0.5)/drawnSide, (float64(k/drawnSide)+0.5)/drawnSide
				at := o.At(geom.Vec3{X: lo[0] + x*(hi[0]-lo[0]), Y: hi[1] - y*(hi[1]-lo[1])})
				for q := range 3 {
					img.Pix[4*k+q] = uint8(math.Round(255 * picture.Encoded(at[q])))
				}
				img.Pix[4*k+3] = 255
			}
		}
	}
	var out bytes.Buffer
	if err := png.Encode(&out, img); err != nil {
		return err
	}
	c.Set("Content-Type", "image/png")
	c.Set("Cache-Control", "no-store")
	return c.Send(out.Bytes())
}

// glossRows is the side of the table of what gloss reflects.
const glossRows = 32

// ambience sends what lights a piece from all around: a head, then the levels one under the
// other as floats of
// red, green, blue and 1.
func (h *server) ambience(c fiber.Ctx) error {
	frame, err := strconv.ParseFloat(c.Query("frame", "0"), 64)
	if err != nil {
		frame = 0
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	a, err := h.studio.Ambience(ctx, p, frame)
	if err != nil {
		return err
	}
	var head struct {
		Rough []float64      `json:"rough"`
		Sizes [][2]int       `json:"sizes"`
		Irrad [9]picture.RGB `json:"irradiance"`
		Gloss [][][2]float64 `json:"reflected"`
	}
	head.Rough, head.Irrad, head.Gloss = picture.AmbienceRough[:], a.Irradiance, picture.Reflected(glossRows)
	for _, row := range head.Gloss {
		for i := range row {
			row[i] = [2]float64{units.Round(row[i][0], 4), units.Round(row[i][1], 4)}
		}
	}
	var data []byte
	for _, l := range a.Levels {
		head.Sizes = append(head.Sizes, [2]int{l.W, l.H})
		for _, v := range l.Pix {
			for _, x := range [4]float32{v[0], v[1], v[2], 1} {
				data = binary.LittleEndian.AppendUint32(data, math.Float32bits(x))
			}
		}
	}
	raw, err := json.Marshal(head)
	if err != nil {
		return err
	}
	for len(raw)%4 != 0 {
		raw = append(raw, ' ')
	}
	out := binary.LittleEndian.AppendUint32(nil, uint32(len(raw)))
	c.Set("Content-Type", "application/octet-stream")
	c.Set("Cache-Control", "no-store")
	return c.Send(append(append(out, raw...), data...))
}
