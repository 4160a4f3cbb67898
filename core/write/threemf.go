package write

import (
	"encoding/xml"
	"fmt"
	"image/color"
	"io"

	"github.com/hpinc/go3mf"
)

// ThreeMF writes all parts as a 3MF file in mm (3MF Core Specification 1.3): an object a part
// with its name, a base material for each paint, and one assembly of all, so that what
// belongs together stays together on the bed. A note becomes the standard's description.
func ThreeMF(w io.Writer, parts []Part, note string) error {
	model := &go3mf.Model{Units: go3mf.UnitMillimeter, Language: "en-US"}
	model.Metadata = append(model.Metadata, go3mf.Metadata{Name: xml.Name{Local: "Application"}, Value: "Bildhauer"})
	if note != "" {
		model.Metadata = append(model.Metadata, go3mf.Metadata{Name: xml.Name{Local: "Description"}, Value: note})
	}
	const paintsID = 1
	// The library leaves out an index of 0, which the standard asks for beside the group: so
	// no paint has that number.
	paints := &go3mf.BaseMaterials{ID: paintsID, Materials: []go3mf.Base{{Name: "unpainted", Color: color.RGBA{128, 128, 128, 255}}}}
	names := uniqueNames(paintNames(parts))
	all := &go3mf.Object{ID: uint32(len(parts) + 2), Name: "piece", Components: &go3mf.Components{}}
	for i := range parts {
		p := &parts[i]
		first := uint32(len(paints.Materials))
		for k, paint := range p.paints() {
			c := paint.Color
			paints.Materials = append(paints.Materials, go3mf.Base{Name: names[int(first)-1+k], Color: color.RGBA{c.R, c.G, c.B, 255}})
		}
		m := &go3mf.Mesh{}
		for v := range p.Mesh.Verts {
			m.Vertices.Vertex = append(m.Vertices.Vertex, go3mf.Point3D(p.Mesh.Pos(int32(v))))
		}
		for k, t := range p.Mesh.Tris {
			n := first + uint32(p.paintOf(k))
			m.Triangles.Triangle = append(m.Triangles.Triangle, go3mf.Triangle{
				V1: uint32(t[0]), V2: uint32(t[1]), V3: uint32(t[2]), PID: paintsID, P1: n, P2: n, P3: n,
			})
		}
		id := uint32(i + 2)
		model.Resources.Objects = append(model.Resources.Objects, &go3mf.Object{
			ID: id, Name: p.Name, PID: paintsID, PIndex: first, Mesh: m,
		})
		all.Components.Component = append(all.Components.Component, &go3mf.Component{ObjectID: id})
	}
	model.Resources.Assets = append(model.Resources.Assets, paints)
	model.Resources.Objects = append(model.Resources.Objects, all)
	model.Build.Items = append(model.Build.Items, &go3mf.Item{ObjectID: all.ID})
	out := &sticky{w: w}
	encoder := go3mf.NewEncoder(out)
	encoder.FloatPrecision = 7 // mm: as fine as single precision is at this size
	if err := encoder.Encode(model); err != nil {
		return fmt.Errorf("the 3MF file could not be written: %w", err)
	}
	return out.err
}
