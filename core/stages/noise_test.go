package stages

import (
	"math"
	"testing"
	"time"

	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/show"
)

// ready returns a ready material by its name.
func ready(tb testing.TB, name string) recipe.Material {
	tb.Helper()
	for _, m := range show.Materials() {
		if m.Name == name {
			return m
		}
	}
	tb.Fatalf("there is no material %s", name)
	return recipe.Material{}
}

// inMaterial raises a demo drawing painted with a ready material.
func inMaterial(tb testing.TB, file, material string, scene recipe.Scene) *Shown {
	tb.Helper()
	r := recipe.New()
	r.Size.MM = 120
	r.Parts.Default.Front.Width, r.Parts.Default.Front.Height = 1, 1
	r.Scene = scene
	r.Scene.Paints = []recipe.Paint{{Material: ready(tb, material)}}
	regions, err := regionsOf(sheet(tb, "../../demo/"+file), &r)
	if err != nil {
		tb.Fatal(err)
	}
	out, err := lineOf(&r).Lit(tb.Context(), regions, 0)
	if err != nil {
		tb.Fatal(err)
	}
	return &out
}

// noisyPictures are what noise is measured on.
var noisyPictures = []struct{ name, file, material, backdrop string }{
	{"clock in brass", "tide-clock.svg", "Polished brass", "colour"},
	{"badge in lacquer on the sweep", "compass-badge.svg", "Ship's lacquer", "sweep"},
	{"neon", "compass-badge.svg", "Neon", "sweep"},
	{"clear resin", "compass-badge.svg", "Clear resin", "sweep"},
}

// BenchmarkNoise measures how far a small picture is from one of 4,096 samples a pixel after a fixed time, as a
// share of its light, as it comes and after the filter.
func BenchmarkNoise(b *testing.B) {
	const w, h, seconds, samples = 96, 54, 1.0, 4096
	for _, c := range noisyPictures {
		b.Run(c.name, func(b *testing.B) {
			shown := inMaterial(b, c.file, c.material, recipe.Scene{Backdrop: recipe.Backdrop{Kind: c.backdrop}})
			made := func(seed uint32, samples int, told func(int) bool) *picture.Film {
				film := picture.NewFilm(w, h, seed)
				if _, err := Expose(b.Context(), shown, 0, film, samples, told); err != nil {
					b.Fatal(err)
				}
				return film
			}
			true4 := made(99, samples, func(int) bool { return true }).Picture()
			for b.Loop() {
				begun := time.Now()
				film := made(1, math.MaxInt32, func(have int) bool { return have == 0 || time.Since(begun).Seconds() < seconds })
				b.ReportMetric(100*lightApart(film.Picture(), true4), "%raw")
				b.ReportMetric(100*lightApart(film.Filtered(), true4), "%filtered")
				b.ReportMetric(float64(film.Samples()), "samples")
			}
		})
	}
}

// lightApart is the root of the mean square by which the light of pictures differs, as a share of it.
func lightApart(p, q *picture.Picture) float64 {
	sum := 0.0
	for i := range p.Light {
		for c := range 3 {
			a, b := p.Light[i][c], q.Light[i][c]
			sum += (a - b) * (a - b) / (b*b + 0.01)
		}
	}
	return math.Sqrt(sum / float64(3*len(p.Light)))
}
