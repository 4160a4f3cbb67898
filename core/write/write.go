// Package write turns solids and outlines into files, one format a file.
package write

import (
	"bildhauer/core/artwork"
	"bildhauer/core/mesh"
)

// Part is one solid to write.
type Part struct {
	Name  string
	Color artwork.Color
	Mesh  *mesh.Mesh
}

// Formats lists the mesh formats by file ending.
var Formats = []string{"stl", "obj", "glb"}
