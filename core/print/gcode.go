package print

import (
	"bufio"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
)

// GCode writes a job as G-code: words of RS-274 (NIST, Kramer, Proctor, Messina, The NIST
// RS274NGC interpreter, 2000) and those for temperatures that printers have in common. Places
// are mm from the front left corner of the bed, lengths of filament are relative. Comments
// begin with a semicolon; the first ones are a header of lines "name: value".
func (j *Job) GCode(w io.Writer) error {
	g := &gcode{Writer: bufio.NewWriterSize(w, 1<<16), j: j}
	g.header()
	s := &j.Setup
	g.linef("G21\nG90\nM83\nM140 S%g\nM104 S%g\nM190 S%g\nM109 S%g\nG28\nG92 E0", s.Material.Bed, s.Material.Nozzle, s.Material.Bed, s.Material.Nozzle)
	j.run(g)
	g.linef("M2")
	return g.Flush()
}

// acts is what a printer is told in turn: by its file, or to find how long it takes.
type acts interface {
	layer(i int)       // begins
	fan(share float64) // of its full speed
	rise(z float64)    // mm
	pull(long float64) // filament, mm; back into the nozzle by less than nothing
	travel(m Move)     // without its pull and push
	lay(m Move)        //
	change(c Change)   // waits for another filament
	rest()             // cools down
}

// run goes through a print.
func (j *Job) run(a acts) {
	from := nowhere
	for i := range j.Laid {
		for _, c := range j.Changes {
			if c.Layer == i+1 && i > 0 {
				j.changed(a, c, j.Laid[i].Z)
				from = nowhere
			}
		}
		from = j.layer(a, i, from)
	}
	j.ended(a)
}

// layer goes through one layer.
func (j *Job) layer(a acts, i int, from [2]float64) [2]float64 {
	a.layer(i)
	a.rise(j.Laid[i].Z)
	if i == 1 {
		a.fan(j.fan(i, false))
	}
	over := false // air
	at := j.Moves(i, from, func(m Move) {
		if !m.Empty {
			if over != (m.Kind == Bridge) {
				over = !over
				a.fan(j.fan(i, over))
			}
			a.lay(m)
			return
		}
		if m.Pull {
			a.pull(Pull)
		}
		a.travel(m)
		if m.Push {
			a.pull(-Pull)
		}
	})
	if over {
		a.fan(j.fan(i, false))
	}
	return at
}

// fan returns how fast the fan runs in a layer, as a share of its full speed: not in the first one, but for what lies over
// air.
func (j *Job) fan(layer int, over bool) float64 {
	m := &j.Setup.Material
	switch {
	case over:
		return math.Max(m.Over, m.Fan)
	case layer == 0:
		return 0
	}
	return m.Fan
}

// aside is how far above the print the nozzle is when it goes beside it, mm.
const aside = 5.0

// changed goes beside the print for another filament.
func (j *Job) changed(a acts, c Change, z float64) {
	bed := &j.Setup.Bed
	a.pull(Pull)
	a.rise(math.Min(z+aside, bed[2]))
	a.travel(Move{To: [2]float64{-bed[0] / 2, -bed[1] / 2}, Empty: true, Speed: j.Setup.Speeds.Travel})
	a.change(c)
	a.pull(-Pull)
}

// ended leaves the print.
func (j *Job) ended(a acts) {
	bed := &j.Setup.Bed
	a.pull(Pull)
	a.rest()
	a.rise(math.Min(bed[2], j.Size[2]+10))
	a.travel(Move{To: [2]float64{-bed[0] / 2, bed[1] / 2}, Empty: true, Speed: j.Setup.Speeds.Travel})
}

type gcode struct {
	*bufio.Writer
	j     *Job
	kind  string
	speed float64
	buf   []byte
}

func (g *gcode) linef(format string, a ...any) {
	fmt.Fprintf(g, format, a...)
	g.WriteByte('\n')
}

// plain keeps a name from ending its line.
func plain(s string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' || r == '(' || r == ')' || r == ';' {
			return ' '
		}
		return r
	}, s)
}

func (g *gcode) header() {
	j, s := g.j, &g.j.Setup
	g.linef("; Bildhauer print file 1")
	g.linef("; piece: %s", plain(j.Name))
	g.linef("; copies: %d", len(j.Places))
	g.linef("; bed: %g x %g x %g mm", s.Bed[0], s.Bed[1], s.Bed[2])
	g.linef("; nozzle: %g mm", s.Nozzle)
	g.linef("; material: %s, %g mm, %g g/cm3", s.Material.Name, s.Filament, s.Material.Density)
	g.linef("; layers: %d, the first %g mm, the others %g mm", len(j.Laid), s.First, s.Layer)
	g.linef("; acceleration: %g mm/s2, corners within %g mm", Accel, Swerve)
	g.linef("; time: %.0f s, of these %.0f s of heating", j.Time(), j.Heating())
	g.linef("; filament: %.1f mm, %.2f g", j.Filament(), j.Mass())
	for i, c := range j.Changes {
		if i > 0 {
			g.linef("; change: layer %d, %s mm up, %s, %s", c.Layer, short(c.Z), plain(c.Name), c.Color)
		}
	}
}

// Mass returns what the filament of the job weighs, g.
func (j *Job) Mass() float64 {
	d := j.Setup.Filament
	return j.Filament() * math.Pi / 4 * d * d / 1000 * j.Setup.Material.Density
}

func (g *gcode) layer(i int) {
	g.linef("; layer %d of %d, %s mm up", i+1, len(g.j.Laid), short(g.j.Laid[i].Z))
	g.kind = ""
}

func (g *gcode) fan(share float64) { g.linef("M106 S%.0f", 255*share) }

func (g *gcode) rise(z float64) {
	g.linef("G0 Z%s F%g", short(z), 60*Rise)
	g.speed = 0
}

func (g *gcode) pull(long float64) {
	g.linef("G1 E%s F%g", short(-long), 60*PullSpeed)
	g.speed = 0
}

func (g *gcode) change(c Change) {
	g.linef("(MSG, change the filament: %s, %s)\nM0", plain(c.Name), c.Color)
}

func (g *gcode) rest() { g.linef("M107\nM104 S0\nM140 S0") }

func (g *gcode) travel(m Move) {
	b := g.place(append(g.buf[:0], "G0"...), m, &g.j.Setup.Bed)
	b = fmt.Appendf(b, " F%g\n", 60*m.Speed)
	g.Write(b)
	g.buf, g.speed = b, 0
}

func (g *gcode) lay(m Move) {
	b := g.buf[:0]
	if k := KindNames[m.Kind]; k != g.kind {
		g.kind = k
		b = append(append(append(b, "; kind: "...), k...), '\n')
	}
	b = g.place(append(b, "G1"...), m, &g.j.Setup.Bed)
	b = strconv.AppendFloat(append(b, " E"...), m.E, 'f', 5, 64)
	if m.Speed != g.speed {
		b = fmt.Appendf(b, " F%g", 60*m.Speed)
		g.speed = m.Speed
	}
	b = append(b, '\n')
	g.Write(b)
	g.buf = b
}

func (g *gcode) place(b []byte, m Move, bed *[3]float64) []byte {
	b = strconv.AppendFloat(append(b, " X"...), m.To[0]+bed[0]/2, 'f', 3, 64)
	return strconv.AppendFloat(append(b, " Y"...), m.To[1]+bed[1]/2, 'f', 3, 64)
}

// short writes a length to the micrometre, without zeros at the end.
func short(v float64) string { return strconv.FormatFloat(math.Round(v*1000)/1000, 'f', -1, 64) }
