package read

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"bildhauer/core/artwork"
)

func drawing(t *testing.T, body string) *artwork.Sheet {
	t.Helper()
	s, err := Sheet(
		"a.svg",
		[]byte(`<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400">`+body+`</svg>`),
	)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

// TestMatchOfChangedFiles changes a file in the ways that clients do and holds
// which shapes are kept.
func TestMatchOfChangedFiles(t *testing.T) {
	const a = `<g id="sails"><rect id="main" x="10" y="10" width="50" height="80" fill="#336699"/><rect x="70" y="10" ` +
		`width="30" height="80" fill="#a33333"/></g><circle cx="200" cy="200" r="30"/><path d="M300 300h50v50z" ` +
		`stroke="#000" fill="none"/>`
	for _, c := range []struct {
		name, after       string
		kept, fresh, gone int
		changed           int
	}{
		{"nothing", a, 4, 0, 0, 0},
		{
			"a new order",
			`<path d="M300 300h50v50z" stroke="#000" fill="none"/><circle cx="200" cy="200" r="30"/><g id="sails">` +
				`<rect x="70" y="10" width="30" height="80" fill="#a33333"/><rect id="main" x="10" y="10" width="50" height="80" fill="#336699"/></g>`,
			4,
			0,
			0,
			0,
		},
		{"a colour, by its id", strings.Replace(a, "#336699", "#00ff00", 1), 4, 0, 0, 1},
		{"a move, by its form", strings.Replace(a, `cx="200"`, `cx="212"`, 1), 4, 0, 0, 1},
		{"one more in front", `<rect x="350" y="5" width="9" height="9"/>` + a, 4, 1, 0, 0},
		{"one less", strings.Replace(a, `<circle cx="200" cy="200" r="30"/>`, "", 1), 3, 0, 1, 0},
		{"another drawing", `<ellipse cx="390" cy="20" rx="3" ry="2"/>`, 0, 1, 4, 0},
	} {
		old, new := drawing(t, a), drawing(t, c.after)
		m := artwork.Match(old, new)
		if len(m.Shapes) != c.kept || len(m.New) != c.fresh || len(m.Gone) != c.gone ||
			len(m.Changed) != c.changed {
			t.Errorf(
				"%s: kept %d, new %d, gone %d, changed %d",
				c.name,
				len(m.Shapes),
				len(m.New),
				len(m.Gone),
				len(m.Changed),
			)
		}
		seen := map[string]bool{}
		for _, k := range m.Shapes {
			if seen[k] {
				t.Errorf("%s: %s was matched twice", c.name, k)
			}
			seen[k] = true
		}
	}
	// However the shapes are shuffled and nudged, each finds itself.
	r := rand.New(rand.NewPCG(3, 4))
	var one, two []string
	place := r.Perm(30)
	for i := range 30 {
		x, y := 20+60*(i%6), 20+70*(i/6)
		one = append(one, fmt.Sprintf(`<circle cx="%d" cy="%d" r="%d" fill="#%02x6699"/>`, x, y, 6+i%5, 8*i))
		two = append(
			two,
			fmt.Sprintf(
				`<circle cx="%.1f" cy="%.1f" r="%d" fill="#%02x6699"/>`,
				float64(x)+r.Float64()*8,
				float64(y)+r.Float64()*8,
				6+i%5,
				8*i,
			),
		)
	}
	shuffled := make([]string, len(two))
	for i, p := range place {
		shuffled[p] = two[i]
	}
	old, new := drawing(t, strings.Join(one, "")), drawing(t, strings.Join(shuffled, ""))
	m := artwork.Match(old, new)
	at := map[string]int{}
	for i := range new.Shapes {
		at[new.Shapes[i].Key] = i
	}
	for i := range old.Shapes {
		if j, ok := at[m.Shapes[old.Shapes[i].Key]]; !ok || new.Shapes[j].Color != old.Shapes[i].Color {
			t.Errorf("circle %d was not found again", i)
		}
	}
}
