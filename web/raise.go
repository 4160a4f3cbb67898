package web

import (
	"encoding/binary"
	"encoding/json"
	"math"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/mesh"
	"bildhauer/core/raise"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
	"bildhauer/core/stages"
	"bildhauer/core/units"
	"bildhauer/core/write"
	"bildhauer/studio"
)

type solidRequest struct {
	Part string                      `json:"part"`
	Try  map[string]recipe.PartPatch `json:"try"` // measures to try without keeping them

	Version string `json:"version"` // of the piece; "" as it is
}

// solidHead stands before the mesh of a part.
type solidHead struct {
	Part      string       `json:"part"`
	Key       stages.Key   `json:"key"`
	Color     string       `json:"color"`
	Vertices  int          `json:"vertices"` // of the solid; corners below may be more
	Corners   int          `json:"corners"`
	Triangles int          `json:"triangles"`
	MS        float64      `json:"ms"`
	Sound     bool         `json:"watertight"`
	Open      bool         `json:"open"`   // some side has no cap on purpose
	Bottom    float64      `json:"bottom"` // z of the lowest point, mm
	Rise      float64      `json:"rise"`   // from there to the highest, mm
	High      float64      `json:"high"`   // heights that the bevels got, mm
	Low       float64      `json:"low"`
	Reach     float64      `json:"reach,omitempty"` // how wide a pillow is, mm
	Depth     float64      `json:"depth"`           // of a round tube as wide as it is, mm
	Widest    float64      `json:"widest"`          // how wide the bevel is where there is most room, mm
	Spots     []raise.Spot `json:"spots"`           // where the artwork is too narrow for it, mm
	Limits    []string     `json:"limits"`          // what could not be, a sentence each without its stop
	Runs      []faceRun    `json:"runs"`            // triangles by whose they are and the face they belong to
	Edges     int          `json:"edges"`           // of its polygons
}

// faceRun is triangles of one face group of one part, one after the other.
type faceRun struct {
	Part  string `json:"part"`
	Color string `json:"color"`
	Face  string `json:"face"`  // one of mesh.Groups
	Sight string `json:"sight"` // as scenes call it
	Start int    `json:"start"`
	Count int    `json:"count"`
}

// solid sends one part as a mesh: the length of a JSON head, the head padded
// to four bytes, then positions (3 float32 a corner, mm), normals (4 int16 a
// corner), triangles (3 uint32) and the edges of polygons (2 uint32, corners).
func (h *server) solid(c fiber.Ctx) error {
	var r solidRequest
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.pieceAt(ctx, c.Params("id"), r.Version)
	if err != nil {
		return err
	}
	s, err := h.studio.Raise(ctx, p, r.Part, r.Try)
	if err != nil {
		return err
	}
	report, err := h.studio.Glance(ctx, p, s)
	if err != nil {
		return err
	}
	shown := *s.Mesh
	shown.Wrap = nil // the page paints no textures
	pos, nrm, _, idx := write.Corners(write.Part{Mesh: &shown})
	edges := edgesOf(s.Mesh, idx)
	idx, runs := sorted(s, idx)
	got := s.Bodies[0]
	head := solidHead{
		Part: s.Part.ID, Key: s.Made.Key, Color: s.Part.Color.Hex(), Vertices: len(s.Mesh.Verts), Corners: len(pos),
		Triangles: len(s.Mesh.Tris), MS: units.Round(s.Took.Seconds()*1000, 1), Sound: report.Watertight() || report.Nothing(),
		Open: report.Open, Bottom: bottom(s.Mesh), Rise: rise(s.Mesh), High: units.Round(got.High, 4), Low: units.Round(got.Low, 4),
		Reach: units.Round(got.Reach, 4), Depth: units.Round(got.Depth, 4),
		Limits: append([]string{}, s.Limits...),
		Widest: units.Round(got.Widest, 4), Spots: append([]raise.Spot{}, got.Spots...), Runs: runs,
		Edges: len(edges) / 2,
	}
	raw, err := json.Marshal(head)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/octet-stream")
	c.Set("Cache-Control", "no-store")
	return c.Send(pack(raw, pos, nrm, append(idx, edges...)))
}

// outlinesOf sends the keys of the outlines that a part takes, to split it by them.
func (h *server) outlinesOf(c fiber.Ctx) error {
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	keys, err := h.studio.Outlines(ctx, p, c.Query("part"))
	if err != nil {
		return err
	}
	return c.JSON(fiber.Map{"outlines": keys})
}

// edgesOf returns the edges of the polygons of a mesh by corners, two numbers each.
func edgesOf(m *mesh.Mesh, idx []uint32) []uint32 {
	corner := make([]uint32, len(m.Verts))
	for k, t := range m.Tris {
		for i, v := range t {
			corner[v] = idx[3*k+i]
		}
	}
	list := m.Edges()
	out := make([]uint32, 0, 2*len(list))
	for _, e := range list {
		out = append(out, corner[e[0]], corner[e[1]])
	}
	return out
}

// sorted brings the triangles into the order of whose they are and the face they belong
// to.
func sorted(s *studio.Solid, idx []uint32) ([]uint32, []faceRun) {
	groups := len(mesh.Groups)
	of := func(k int) int {
		n := int(s.Mesh.Group[k])
		if s.Mesh.Part != nil {
			n += groups * int(s.Mesh.Part[k])
		}
		return n
	}
	start := make([]int, groups*len(s.Owners)+1)
	for k := range s.Mesh.Tris {
		start[of(k)+1]++
	}
	runs := []faceRun{}
	for n := range groups * len(s.Owners) {
		owner := s.Owners[n/groups]
		if start[n+1] > 0 {
			runs = append(runs, faceRun{owner.ID, owner.Color.Hex(), mesh.Groups[n%groups], show.FacesOf(mesh.Group(n % groups)), start[n], start[n+1]})
		}
		start[n+1] += start[n]
	}
	out := make([]uint32, len(idx))
	for k := range s.Mesh.Tris {
		at := start[of(k)]
		copy(out[3*at:3*at+3], idx[3*k:3*k+3])
		start[of(k)]++
	}
	return out, runs
}

// pack puts a head and a mesh into one run of bytes.
func pack(head []byte, pos, nrm [][3]float32, idx []uint32) []byte {
	for len(head)%4 != 0 {
		head = append(head, ' ')
	}
	b := make([]byte, 0, 4+len(head)+20*len(pos)+4*len(idx))
	b = binary.LittleEndian.AppendUint32(b, uint32(len(head)))
	b = append(b, head...)
	for _, v := range pos {
		for _, x := range v {
			b = binary.LittleEndian.AppendUint32(b, math.Float32bits(x))
		}
	}
	for _, v := range nrm {
		for _, x := range v {
			b = binary.LittleEndian.AppendUint16(b, uint16(int16(math.Round(float64(x)*32767))))
		}
		b = append(b, 0, 0)
	}
	for _, i := range idx {
		b = binary.LittleEndian.AppendUint32(b, i)
	}
	return b
}

// bottom returns the z of a mesh's lowest point in mm.
func bottom(m *mesh.Mesh) float64 {
	lo, _ := m.Box()
	return units.Round(lo[2], 4)
}

// rise returns how high a mesh really is in mm.
func rise(m *mesh.Mesh) float64 {
	lo, hi := m.Box()
	return units.Round(hi[2]-lo[2], 4)
}
