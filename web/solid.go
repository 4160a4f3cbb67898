package web

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"math"
	"mime"
	"strings"

	"github.com/gofiber/fiber/v3"

	"bildhauer/core/mesh"
	"bildhauer/core/write"
	"bildhauer/studio"
)

func asError[T error](err error, target *T) bool { return errors.As(err, target) }

type solidRequest struct {
	Part  string    `json:"part"`
	Patch partPatch `json:"patch"` // measures to try without keeping them
}

type solidHead struct {
	Part      string  `json:"part"`
	Color     string  `json:"color"`
	Vertices  int     `json:"vertices"` // of the solid; corners below may be more
	Corners   int     `json:"corners"`
	Triangles int     `json:"triangles"`
	MS        float64 `json:"ms"`
	Sound     bool    `json:"watertight"`
	Depth     float64 `json:"depth"`
	Rise      float64 `json:"rise"`  // from back to the highest point, mm
	Faces     [4]int  `json:"faces"` // triangles of front, bevel, side, back
}

// solid sends one part as a mesh: the length of a JSON head, the head padded
// to four bytes, then positions (3 float32 a corner, mm), normals (4 int8 a
// corner) and triangles (3 uint32).
func (h *server) solid(c fiber.Ctx) error {
	var r solidRequest
	if err := json.Unmarshal(c.Body(), &r); err != nil {
		return &studio.ErrInput{Text: "This request could not be read."}
	}
	p, err := h.studio.Piece(c.Params("id"))
	if err != nil {
		return err
	}
	if len(r.Patch) > 0 {
		ch := changeRequest{Parts: map[string]partPatch{r.Part: r.Patch}}
		if err := ch.apply(&p.Doc); err != nil {
			return err
		}
		if err := p.Doc.Recipe.Check(); err != nil {
			return &studio.ErrInput{Text: strings.ToUpper(err.Error()[:1]) + err.Error()[1:] + "."}
		}
	}
	s, err := h.studio.Raise(p, r.Part)
	if errors.Is(err, context.Canceled) {
		return fiber.NewError(fiber.StatusConflict, "cancelled")
	}
	if err != nil {
		return err
	}
	rep := mesh.Check(s.Mesh, false)
	pos, nrm, idx := write.Corners(write.Part{Mesh: s.Mesh})
	head := solidHead{Part: s.Part.ID, Color: s.Part.Color.Hex(), Vertices: len(s.Mesh.Verts), Corners: len(pos),
		Triangles: len(s.Mesh.Tris), MS: math.Round(s.MS*10) / 10, Sound: rep.Watertight(), Depth: s.How.Depth}
	head.Rise = rise(s.Mesh)
	for _, g := range s.Mesh.Group {
		head.Faces[g]++
	}
	raw, err := json.Marshal(head)
	if err != nil {
		return err
	}
	for len(raw)%4 != 0 {
		raw = append(raw, ' ')
	}
	b := make([]byte, 0, 4+len(raw)+16*len(pos)+4*len(idx))
	b = binary.LittleEndian.AppendUint32(b, uint32(len(raw)))
	b = append(b, raw...)
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
	c.Set("Content-Type", "application/octet-stream")
	c.Set("Cache-Control", "no-store")
	return c.Send(b)
}

type check struct {
	Part      string  `json:"part"`
	ID        string  `json:"id"`
	Color     string  `json:"color"`
	Sound     bool    `json:"sound"`
	Problems  string  `json:"problems"`
	Triangles int     `json:"triangles"`
	Shells    int     `json:"shells"`
	VolumeMM3 float64 `json:"volumeMm3"`
	AreaMM2   float64 `json:"areaMm2"`
	Depth     float64 `json:"depth"` // as it came out, mm
}

// rise returns how high a mesh really is in mm.
func rise(m *mesh.Mesh) float64 {
	lo, hi := m.Box()
	return math.Round((hi[2]-lo[2])*1e4) / 1e4
}

func checkOf(s *studio.Solid) check {
	r := mesh.Check(s.Mesh, true)
	var bad []string
	for _, e := range [...]struct {
		n         int
		one, many string
	}{{r.Boundary, "open edge", "open edges"}, {r.Crowded, "edge with more than two faces", "edges with more than two faces"},
		{r.Misoriented, "edge turned over", "edges turned over"}, {r.ZeroArea, "triangle without area", "triangles without area"},
		{r.Crossing, "crossing of faces", "crossings of faces"}} {
		if e.n > 0 {
			bad = append(bad, plural(e.n, e.one, e.many))
		}
	}
	return check{s.Part.Name, s.Part.ID, s.Part.Color.Hex(), r.Sound(), strings.Join(bad, ", "), r.Triangles, r.Shells, r.VolumeMM3, r.AreaMM2, rise(s.Mesh)}
}

func (h *server) checks(c fiber.Ctx) error {
	p, err := h.studio.Piece(c.Params("id"))
	if err != nil {
		return err
	}
	solids, err := h.studio.Solids(p)
	if err != nil {
		return err
	}
	out := make([]check, len(solids))
	for i, s := range solids {
		out[i] = checkOf(s)
	}
	return c.JSON(fiber.Map{"parts": out})
}

// download sends the piece in a format, unless a part fails its check.
func (h *server) download(c fiber.Ctx) error {
	p, err := h.studio.Piece(c.Params("id"))
	if err != nil {
		return err
	}
	format := c.Params("format")
	var b, extra bytes.Buffer
	name := fileName(p.Doc.Name)
	if format == "svg" {
		prep, err := h.studio.Prepared(c.Context(), p)
		if err != nil {
			return err
		}
		var outlines []write.Outline
		for i := range prep.Parts {
			part := &prep.Parts[i]
			if !p.Doc.Recipe.Of(part.ID).Out {
				outlines = append(outlines, write.Outline{Name: part.Name, Color: part.Color, Region: part.Region})
			}
		}
		if err := write.PartsSVG(&b, outlines, prep.Step, prep.Width, prep.Height); err != nil {
			return err
		}
		return attach(c, name+".svg", "image/svg+xml", b.Bytes())
	}
	solids, err := h.studio.Solids(p)
	if err != nil {
		return err
	}
	var parts []write.Part
	for _, s := range solids {
		if !mesh.Check(s.Mesh, true).Sound() {
			return &studio.ErrInput{Text: s.Part.Name + " is not sound, see the checks. Narrow its bevel or raise the tolerance."}
		}
		parts = append(parts, write.Part{Name: s.Part.Name, Color: s.Part.Color, Mesh: s.Mesh})
	}
	switch format {
	case "stl":
		err = write.STL(&b, parts)
		return sendOr(c, err, name+".stl", "model/stl", &b)
	case "glb":
		err = write.GLB(&b, parts)
		return sendOr(c, err, name+".glb", "model/gltf-binary", &b)
	case "obj":
		err = write.OBJ(&b, &extra, name+".mtl", parts)
		return sendOr(c, err, name+".obj", "model/obj", &b)
	case "mtl":
		err = write.OBJ(&b, &extra, name+".mtl", parts)
		return sendOr(c, err, name+".mtl", "model/mtl", &extra)
	}
	return fiber.NewError(fiber.StatusNotFound, "This format is not known.")
}

func sendOr(c fiber.Ctx, err error, name, kind string, b *bytes.Buffer) error {
	if err != nil {
		return err
	}
	return attach(c, name, kind, b.Bytes())
}

func attach(c fiber.Ctx, name, kind string, data []byte) error {
	c.Set("Content-Type", kind)
	c.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	return c.Send(data)
}

// fileName makes a name that every system takes.
func fileName(s string) string {
	s = strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9', r == '-':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 32
		case r == ' ' || r == '_':
			return '-'
		}
		return -1
	}, s)
	if s = strings.Trim(s, "-"); s == "" {
		return "piece"
	}
	return s
}
