package web

import (
	"encoding/binary"
	"encoding/json"
	"math"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/mesh"
	"bildhauer/core/recipe"
	"bildhauer/core/stages"
	"bildhauer/core/units"
	"bildhauer/core/write"
)

type solidRequest struct {
	Part  string           `json:"part"`
	Patch recipe.PartPatch `json:"patch"` // measures to try without keeping them
}

// solidHead stands before the mesh of a part.
type solidHead struct {
	Part      string     `json:"part"`
	Key       stages.Key `json:"key"`
	Color     string     `json:"color"`
	Vertices  int        `json:"vertices"` // of the solid; corners below may be more
	Corners   int        `json:"corners"`
	Triangles int        `json:"triangles"`
	MS        float64    `json:"ms"`
	Sound     bool       `json:"watertight"`
	Depth     float64    `json:"depth"`
	Rise      float64    `json:"rise"`    // from back to the highest point, mm
	Limited   float64    `json:"limited"` // height that the bevel got, where the depth allows no more
	Faces     [4]int     `json:"faces"`   // triangles of front, bevel, side, back
}

// solid sends one part as a mesh: the length of a JSON head, the head padded
// to four bytes, then positions (3 float32 a corner, mm), normals (4 int8 a
// corner) and triangles (3 uint32).
func (h *server) solid(c fiber.Ctx) error {
	var r solidRequest
	if err := parse(c, &r); err != nil {
		return err
	}
	ctx, end := h.begin(c)
	defer end()
	p, err := h.studio.Piece(ctx, c.Params("id"))
	if err != nil {
		return err
	}
	s, err := h.studio.Raise(ctx, p, r.Part, r.Patch)
	if err != nil {
		return err
	}
	tight, err := h.studio.Watertight(ctx, p, s)
	if err != nil {
		return err
	}
	pos, nrm, idx := write.Corners(write.Part{Mesh: s.Mesh})
	head := solidHead{
		Part: s.Part.ID, Key: s.Made.Key, Color: s.Part.Color.Hex(), Vertices: len(s.Mesh.Verts), Corners: len(pos),
		Triangles: len(
			s.Mesh.Tris,
		), MS: units.Round(s.Took.Seconds()*1000, 1), Sound: tight, Depth: s.How.Depth, Rise: rise(s.Mesh),
	}
	if s.How.BevelWidth > 0 && s.High < s.How.BevelHeight-1e-6 {
		head.Limited = units.Round(s.High, 4)
	}
	for _, g := range s.Mesh.Group {
		head.Faces[g]++
	}
	raw, err := json.Marshal(head)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/octet-stream")
	c.Set("Cache-Control", "no-store")
	return c.Send(pack(raw, pos, nrm, idx))
}

// pack puts a head and a mesh into one run of bytes.
func pack(head []byte, pos, nrm [][3]float32, idx []uint32) []byte {
	for len(head)%4 != 0 {
		head = append(head, ' ')
	}
	b := make([]byte, 0, 4+len(head)+16*len(pos)+4*len(idx))
	b = binary.LittleEndian.AppendUint32(b, uint32(len(head)))
	b = append(b, head...)
	for _, v := range pos {
		for _, x := range v {
			b = binary.LittleEndian.AppendUint32(b, math.Float32bits(x))
		}
	}
	for _, v := range nrm {
		for _, x := range v {
			b = append(b, byte(int8(math.Round(float64(x)*127))))
		}
		b = append(b, 0)
	}
	for _, i := range idx {
		b = binary.LittleEndian.AppendUint32(b, i)
	}
	return b
}

// rise returns how high a mesh really is in mm.
func rise(m *mesh.Mesh) float64 {
	lo, hi := m.Box()
	return units.Round(hi[2]-lo[2], 4)
}
