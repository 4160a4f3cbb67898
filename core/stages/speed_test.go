package stages

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"slices"
	"strings"
	"testing"
	"time"

	"bildhauer/core/mend"
	"bildhauer/core/raise"
	"bildhauer/core/read"
	"bildhauer/core/recipe"
)

// oneCore runs what follows on one core, as the times that are promised are meant, and collects as
// lazily as the program does.
func oneCore(b *testing.B) {
	cores, percent := runtime.GOMAXPROCS(1), debug.SetGCPercent(400)
	b.Cleanup(func() {
		runtime.GOMAXPROCS(cores)
		debug.SetGCPercent(percent)
	})
}

// median returns the middle of some times in ms.
func median(times []time.Duration) float64 {
	slices.Sort(times)
	return times[len(times)/2].Seconds() * 1e3
}

// raised reads artwork and raises all of its bodies, each alone; it returns the
// segments of the outlines and the triangles.
func raised(name string, data []byte) (segments, triangles int, err error) {
	s, err := read.Sheet(name, data)
	if err != nil {
		return 0, 0, err
	}
	r := recipe.New()
	p, err := regionsOf(s, &r)
	if err != nil {
		return 0, 0, err
	}
	for _, one := range Arrangement(p, &r.Parts) {
		made, err := lineOf(&r).Body(context.Background(), p, &one, raise.Plain)
		if err != nil {
			return 0, 0, err
		}
		segments += p.Parts[one.Index].Region.Value.Edges()
		triangles += len(made.Value.Mesh.Tris)
	}
	return segments, triangles, nil
}

// BenchmarkIcon reads, resolves and raises an icon, 4 segments: the one drawn here, or
// the median of all in the folder that BILDHAUER_ICONS names.
func BenchmarkIcon(b *testing.B) {
	oneCore(b)
	files := map[string][]byte{"icon.svg": icon()}
	if dir := os.Getenv("BILDHAUER_ICONS"); dir != "" {
		clear(files)
		list, _ := filepath.Glob(filepath.Join(dir, "*.svg"))
		for _, path := range list {
			data, err := os.ReadFile(path)
			if err != nil {
				b.Fatal(err)
			}
			files[path] = data
		}
	}
	var times []time.Duration
	segments, triangles := 0, 0
	for b.Loop() {
		for name, data := range files {
			begun := time.Now()
			s, t, err := raised(name, data)
			if err != nil {
				b.Fatal(name, err)
			}
			times = append(times, time.Since(begun))
			segments, triangles = segments+s, triangles+t
		}
	}
	b.ReportMetric(median(times), "ms/median")
	b.ReportMetric(float64(segments)/float64(len(times)), "segments")
	b.ReportMetric(float64(triangles)/float64(segments), "triangles/segment")
}

// icon is a single-colour icon of some hundred nodes, drawn for this bench:
// a ship's wheel with holes.
func icon() []byte {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64"><path fill-rule="evenodd" d="`)
	ring := func(r float64) {
		fmt.Fprintf(
			&b,
			"M%.2f 32A%.2f %.2f 0 1 1 %.2f 32A%.2f %.2f 0 1 1 %.2f 32Z",
			32-r,
			r,
			r,
			32+r,
			r,
			r,
			32-r,
		)
	}
	ring(22)
	for k := range 12 {
		a := float64(k) * math.Pi / 6
		fmt.Fprintf(
			&b,
			"M%.2f %.2fc2 3 3 3 4 6c-2 1-5 1-6-1c0-2 1-3 2-5z",
			32+14*math.Cos(a),
			30+14*math.Sin(a),
		)
	}
	b.WriteString("M30 2")
	for k := range 40 {
		a0, a1 := (float64(k)-10)*math.Pi/20, (float64(k)-9.5)*math.Pi/20
		fmt.Fprintf(
			&b,
			"L%.2f %.2fQ%.2f %.2f %.2f %.2f",
			32+30*math.Cos(a0),
			32+30*math.Sin(a0),
			32+25*math.Cos(a1),
			32+25*math.Sin(a1),
			32+27*math.Cos(a1),
			32+27*math.Sin(a1),
		)
	}
	b.WriteString(`Z"/></svg>`)
	return []byte(b.String())
}

// wreath is a logo whose outlines have 2,000 nodes: leaves in four rings.
func wreath() []byte {
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="-100 -100 200 200">`)
	for k := range 76 {
		ring := float64(k / 19)
		fmt.Fprintf(&b, `<path transform="rotate(%g) translate(0 %g) scale(%g)" d="M0-3C2-2 2 0 1 1 1 2 .5 3 0 3S-1 2-1 1C-2 0-2-2`+
			`-1.5-2.5-1-3-.5-3 0-3z"/>`, float64(k)*360/19, 35+18*ring, 0.6+0.35*ring)
	}
	b.WriteString(`</svg>`)
	return []byte(b.String())
}

// BenchmarkLogo reads, resolves and raises a logo whose outlines have 2,000 nodes.
func BenchmarkLogo(b *testing.B) {
	oneCore(b)
	data := wreath()
	for b.Loop() {
		s, t, err := raised("wreath.svg", data)
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(s), "segments")
		b.ReportMetric(float64(t), "triangles")
	}
}

// BenchmarkFusedTubes makes one body of tubes along every outline of the artwork that
// BILDHAUER_ART names, or of the clock.
func BenchmarkFusedTubes(b *testing.B) {
	path := cmp.Or(os.Getenv("BILDHAUER_ART"), "../../demo/tide-clock.svg")
	s := sheet(b, path)
	r := recipe.New()
	r.Parts.Default.Tube.Width = 1
	p, err := regionsOf(s, &r)
	if err != nil {
		b.Fatal(err)
	}
	for i := range p.Parts {
		r.Parts.List = append(r.Parts.List, recipe.Part{ID: p.Parts[i].ID, Role: recipe.Role{Kind: recipe.AsTube}})
	}
	if p, err = regionsOf(s, &r); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		made, err := lineOf(&r).Fused(context.Background(), p, Arrangement(p, &r.Parts), raise.Plain)
		if err != nil {
			b.Fatal(err)
		}
		b.ReportMetric(float64(len(made.Value.Mesh.Tris)), "triangles")
	}
}

// BenchmarkFur looks for findings on the fur of the cat of the demo, 2,200 nodes, and takes all proposals that
// are no guess.
func BenchmarkFur(b *testing.B) {
	s := sheet(b, "../../demo/ships-cat.svg")
	joined := Made[*Joined]{Value: &Joined{Sheet: s}}
	line := func() *Line {
		r := recipe.New()
		r.Size.By, r.Size.MM = recipe.Height, 140
		return lineOf(&r)
	}
	b.Run("find", func(b *testing.B) {
		for b.Loop() {
			l := line()
			m, err := l.MendedOf(b.Context(), joined)
			if err != nil {
				b.Fatal(err)
			}
			found, err := l.Findings(b.Context(), m)
			if err != nil {
				b.Fatal(err)
			}
			b.ReportMetric(float64(len(found.Value)), "findings")
		}
	})
	b.Run("take", func(b *testing.B) {
		for b.Loop() {
			taken, err := line().TakeAll(b.Context(), joined, mend.Choice{})
			if err != nil {
				b.Fatal(err)
			}
			b.ReportMetric(float64(len(taken.Mends)), "mends")
		}
	})
}
