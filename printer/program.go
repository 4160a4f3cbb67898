// Package printer is a simulated printer that ships with the program, so that the whole way
// to a print can be walked without a device: it takes jobs over HTTP, heats, prints at a
// multiple of real time, reports, and fails on demand. docs/printer.md tells its interface.
package printer

import (
	"bufio"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"bildhauer/core/print"
)

// program is a print file as the device understands it.
type program struct {
	name    string
	bed     [3]float64 // that it was made for, mm; 0 if it does not say
	nozzle  float64    // wanted temperature, degrees Celsius
	plate   float64
	layers  []float64 // how long each takes, s
	changes []int     // layers before which the filament is changed, from 0
	hi      [3]float64
	lo      [3]float64
}

// MostBytes bounds a print file.
const MostBytes = 256 << 20

// parse reads a print file. It returns a sentence for what the device can't do.
func parse(r io.Reader) (*program, error) {
	p := &program{lo: [3]float64{math.Inf(1), math.Inf(1), math.Inf(1)}}
	m := &mover{program: p}
	lines := bufio.NewScanner(r)
	lines.Buffer(nil, 1<<16)
	for n := 1; lines.Scan(); n++ {
		code, note, _ := strings.Cut(lines.Text(), ";")
		p.note(strings.TrimSpace(note), m)
		if err := m.line(strings.TrimSpace(code)); err != nil {
			return nil, fmt.Errorf("line %d: %w", n, err)
		}
	}
	if err := lines.Err(); err != nil {
		return nil, fmt.Errorf("the file could not be read: %w", err)
	}
	m.end()
	if len(p.layers) == 0 {
		return nil, fmt.Errorf("there is nothing to print in it")
	}
	return p, nil
}

// note takes what comments say.
func (p *program) note(text string, m *mover) {
	if strings.HasPrefix(text, "layer ") {
		m.end()
		p.layers = append(p.layers, 0)
		return
	}
	switch name, value, _ := strings.Cut(text, ": "); name {
	case "piece":
		p.name = value
	case "bed":
		fmt.Sscanf(value, "%g x %g x %g", &p.bed[0], &p.bed[1], &p.bed[2])
	}
}

// mover follows the nozzle.
type mover struct {
	*program
	motion print.Motion
	at     [3]float64
	speed  float64 // mm/s
	time   float64 // s, of the layer
}

// end ends a layer.
func (m *mover) end() {
	if n := len(m.layers); n > 0 {
		m.layers[n-1] += m.time + m.motion.Stop()
	} else {
		m.motion.Stop() // on the way to the first one
	}
	m.time = 0
}

func (m *mover) line(code string) error {
	if code == "" || code[0] == '(' {
		return nil
	}
	words := strings.Fields(code)
	value := map[byte]float64{}
	for _, w := range words[1:] {
		v, err := strconv.ParseFloat(w[1:], 64)
		if err != nil || math.IsNaN(v) || math.Abs(v) > 1e6 {
			return fmt.Errorf("%.40q is no figure", w)
		}
		value[w[0]] = v
	}
	switch words[0] {
	case "G0", "G1":
		return m.move(value)
	case "M104", "M109":
		m.nozzle = max(m.nozzle, value['S'])
	case "M140", "M190":
		m.plate = max(m.plate, value['S'])
	case "M0":
		m.changes = append(m.changes, len(m.layers))
	case "G21", "G28", "G90", "G92", "M2", "M83", "M106", "M107":
	default:
		return fmt.Errorf("the word %.40q is not known", words[0])
	}
	return nil
}

func (m *mover) move(value map[byte]float64) error {
	to := m.at
	for k, axis := range "XYZ" {
		if v, ok := value[byte(axis)]; ok {
			to[k] = v
		}
	}
	if f, ok := value['F']; ok {
		m.speed = f / 60
	}
	if m.speed <= 0 {
		return fmt.Errorf("a way without a speed")
	}
	e := value['E']
	if to[0] == m.at[0] && to[1] == m.at[1] {
		m.time += m.motion.Stop() + (math.Abs(e)+math.Abs(to[2]-m.at[2]))/m.speed
	} else if e > 0 {
		for k := range 3 {
			m.lo[k], m.hi[k] = min(m.lo[k], to[k], m.at[k]), max(m.hi[k], to[k], m.at[k])
		}
	}
	m.motion.Go([2]float64{to[0], to[1]}, m.speed)
	m.at = to
	return nil
}
