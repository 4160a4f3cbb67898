// Package write turns solids and outlines into files, one format a file.
package write

import (
	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
)

// Part is one solid to write.
type Part struct {
	Name   string
	Color  artwork.Color
	Mesh   *mesh.Mesh
	Paints []Paint // of the faces of each number of Mesh.Part, where there are several
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
var Formats = []string{"stl", "obj", "glb"}
