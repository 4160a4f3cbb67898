// Package write turns solids and outlines into files, one format a file.
package write

import (
	"io"

	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
)

// Part is one solid to write.
type Part struct {
	Name   string
	Color  artwork.Color
	Mesh   *mesh.Mesh
	Paints []Paint // of the faces of each number of Mesh.Part, where there are several
	Moves  string  // id of the part that it moves with in a Film, "" for the piece as a whole
}

// Paint is the material of some faces.
type Paint struct {
	Name  string
	Color artwork.Color
	Looks []Look // by face group (mesh.Group), for formats that carry it; nil for a plain one
}

// Look is what faces are made of, in the terms of glTF.
type Look struct {
	Color           artwork.Color
	Metal, Rough    float64
	Coat, CoatRough float64
	Glow, Clear     float64
	Index, Deep     float64 // of refraction; mm of way inside after which light has the colour
	Thin            bool    // no way inside
}

// paints returns the materials of a part, one at least.
func (p *Part) paints() []Paint {
	if p.Mesh.Part == nil || len(p.Paints) == 0 {
		if len(p.Paints) == 1 {
			return p.Paints
		}
		return []Paint{{Name: p.Name, Color: p.Color}}
	}
	return p.Paints
}

// paintOf returns which of the paints triangle k has.
func (p *Part) paintOf(k int) int {
	if p.Mesh.Part == nil || len(p.Paints) == 0 {
		return 0
	}
	return int(p.Mesh.Part[k])
}

// Formats lists the mesh formats by file ending.
var Formats = []string{"stl", "3mf", "obj", "glb", "ply", "usda", "usdz"}

// Standing reports whether a format has pieces stand with y up by itself.
func Standing(format string) bool { return format == "glb" || format == "usda" || format == "usdz" }

// Solids writes parts in one of Formats but OBJ, which has two files. film may be nil.
func Solids(w io.Writer, format string, parts []Part, film *Film) error {
	switch format {
	case "glb":
		return GLB(w, parts, film)
	case "usda":
		return USDA(w, parts, film)
	case "usdz":
		return USDZ(w, parts, film)
	case "3mf":
		return ThreeMF(w, parts, "")
	case "ply":
		return PLY(w, parts)
	}
	return STL(w, parts)
}
