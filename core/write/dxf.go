package write

import (
	"bufio"
	"fmt"
	"io"
	"strings"

	"bildhauer/core/plane"
)

// Cut is the outline of a part for machines that cut.
type Cut struct {
	Outline
	Depth float64 // of the part, mm
}

// DXF writes outlines as closed polylines in mm, x to the right and y up (AutoCAD Release 12
// DXF reference, AC1009): a layer for each part and its depth. Holes are polylines of the
// same layer that run the other way.
func DXF(w io.Writer, list []Cut, step plane.Step) error {
	b := bufio.NewWriterSize(w, 1<<16)
	pair := func(code int, value any) { fmt.Fprintf(b, "%3d\n%v\n", code, value) }
	number := func(v int32) string { return fmt.Sprintf("%.6f", step.MM(plane.Units(v))) }
	layers := make([]string, len(list))
	names := make([]string, len(list))
	for i, c := range list {
		names[i] = layerName(c.Name, c.Depth)
	}
	copy(layers, uniqueNames(names))
	pair(0, "SECTION")
	pair(2, "HEADER")
	pair(9, "$ACADVER")
	pair(1, "AC1009")
	pair(0, "ENDSEC")
	pair(0, "SECTION")
	pair(2, "TABLES")
	pair(0, "TABLE")
	pair(2, "LAYER")
	pair(70, len(list))
	for i := range list {
		pair(0, "LAYER")
		pair(2, layers[i])
		pair(70, 0)
		pair(62, 1+i%7) // one of the seven colours that every reader has
		pair(6, "CONTINUOUS")
	}
	pair(0, "ENDTAB")
	pair(0, "ENDSEC")
	pair(0, "SECTION")
	pair(2, "ENTITIES")
	ring := func(layer string, points []plane.Point) {
		pair(0, "POLYLINE")
		pair(8, layer)
		pair(66, 1)
		pair(70, 1) // closed
		pair(10, "0.0")
		pair(20, "0.0")
		pair(30, "0.0")
		for _, p := range points {
			pair(0, "VERTEX")
			pair(8, layer)
			pair(10, number(p.X))
			pair(20, number(p.Y))
		}
		pair(0, "SEQEND")
		pair(8, layer)
	}
	for i, c := range list {
		for _, area := range c.Region {
			ring(layers[i], area.Outer)
			for _, hole := range area.Holes {
				ring(layers[i], hole)
			}
		}
	}
	pair(0, "ENDSEC")
	pair(0, "EOF")
	return b.Flush()
}

// layerName makes a name of what Release 12 allows: capitals, digits, _ - $, at most 31.
func layerName(name string, depth float64) string {
	clean := strings.Map(func(r rune) rune {
		switch {
		case r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || r == '-' || r == '_':
			return r
		}
		return '_'
	}, strings.ToUpper(name))
	tail := strings.ReplaceAll(fmt.Sprintf("_%.2fMM", depth), ".", "_")
	return clean[:min(len(clean), 28-len(tail))] + tail
}
