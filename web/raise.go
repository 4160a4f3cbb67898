package web

import (
	"github.com/gofiber/fiber/v3"

	"bildhauer/core/mesh"
	"bildhauer/core/raise"
	"bildhauer/core/show"
	"bildhauer/core/stages"
	"bildhauer/core/units"
	"bildhauer/studio"
)

// solidHead stands before the mesh of a body.
type solidHead struct {
	Part      string       `json:"part"`
	Key       stages.Key   `json:"key"`
	Color     string       `json:"color"`
	Vertices  int          `json:"vertices"` // of the solid; corners below may be more
	Corners   int          `json:"corners"`
	Triangles int          `json:"triangles"`
	MS        float64      `json:"ms"`
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
	BoxLow    [3]float32   `json:"lo"`              // lowest corner of its box, mm
	BoxSide   [3]float32   `json:"side"`            // sides of its box, mm
	Wide      bool         `json:"wide"`            // indices take 32 bits, not 16
	Form      string       `json:"form"`            // names what follows the positions
	Same      bool         `json:"same,omitempty"`  // nothing does: the client has it
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
