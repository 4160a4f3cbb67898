package palette

import (
	"cmp"
	"context"
	"math"
	"slices"

	"bildhauer/core/artwork"
	"bildhauer/core/recipe"
)

// Gathered is shades gathered to few colours.
type Gathered struct {
	Shades []Shade
	To     []string          // of each shade: the colour that it becomes
	Map    map[string]string // the same by hex
	Colors []string          // that are left, those with the largest area first
	Area   []float64         // of each of these: share of what is seen
	Mean   float64           // by how much what is seen differs, on average over its area, OKLab
	Most   float64           // by how much the shade differs that does so most, OKLab
}

// Gather gathers shades as a palette says. Two groups of shades become one where that changes least: by the
// distance of their colours and how much is seen of them (Ward 1963), less where they lie beside each
// other, as the shades of one thing do. It returns the context's error.
func Gather(ctx context.Context, s *Shades, p *recipe.Palette) (*Gathered, error) {
	g := newGathering(s, p)
	want := p.Count
	if p.Distance == 0 && p.Count == 0 {
		want = len(g.groups)
	}
	if err := g.merge(ctx, want, p.Distance/100); err != nil {
		return nil, err
	}
	for range settleRounds {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		if !g.settle() {
			break
		}
	}
	return g.result(p), nil
}

// gathering is groups of shades on their way.
type gathering struct {
	shades *Shades
	groups []*group
	given  bool
}

// group is shades that become one colour.
type group struct {
	members []int32
	mean    Lab
	area    float64
	weight  float64
	fixed   int32 // a member whose colour stays, or -1
	beside  map[int32]float64
	border  float64 // sum of beside
	near    int32   // the group that it would go with first, or -1
	cost    float64 // of that
	gone    bool
}

// A small area counts for more than its share, so that an eye is not lost for a shade of the sky: its
// weight is this power of it.
const smallAreas = 0.6

// besideSaves is by how much cheaper it is to gather two shades of which one has no other neighbour.
const besideSaves = 0.6

// mostGroups is how many groups are compared with each other. More shades are first gathered in cells of OKLab.
const mostGroups = 1200

// alike is the distance of shades that nobody tells apart beside each other; even text of such shades goes
// together. Of dark outlines, which are thin, nobody tells these apart.
const (
	alike      = 0.012
	linesAlike = 0.1
)

// fixed tells which shades keep their own: those of text and dark outlines, of which the ones that are seen
// most take up to half of the colours that are wanted. Where colours are given, none do.
func (g *gathering) fixed(p *recipe.Palette) []bool {
	list := g.shades.List
	out := make([]bool, len(list))
	if g.given {
		return out
	}
	var order []int
	for i := range list {
		if list[i].Text || list[i].Line {
			order = append(order, i)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int {
		if list[a].Text != list[b].Text { // a word is lost sooner than a line
			return map[bool]int{true: -1, false: 1}[list[a].Text]
		}
		return cmp.Compare(list[b].Area, list[a].Area)
	})
	var kept []int
	for _, i := range order {
		near := func(k int) bool {
			within := alike
			if !list[i].Text {
				within = linesAlike
			}
			return list[i].lab.To(list[k].lab) < within
		}
		if slices.ContainsFunc(kept, near) || p.Count > 0 && len(kept) >= p.Count/2 {
			continue
		}
		kept = append(kept, i)
		out[i] = true
	}
	return out
}

func newGathering(s *Shades, p *recipe.Palette) *gathering {
	g := &gathering{shades: s, given: len(p.Given) > 0}
	fixed := g.fixed(p)
	cell := 0.0
	of := make([]int32, len(s.List))
	for {
		g.groups = g.groups[:0]
		cells := map[[3]int]int32{}
		for i := range s.List {
			shade := &s.List[i]
			key := [3]int{}
			if cell > 0 {
				for k := range key {
					key[k] = int(math.Floor(shade.lab[k] / cell))
				}
			}
			n, have := cells[key]
			if !have || cell == 0 || fixed[i] {
				n = int32(len(g.groups))
				g.groups = append(g.groups, &group{fixed: -1, beside: map[int32]float64{}})
				if !fixed[i] {
					cells[key] = n
				}
			}
			of[i] = n
			g.groups[n].take(int32(i), shade, fixed[i])
		}
		if len(g.groups) <= mostGroups || cell > 0.5 {
			break
		}
		cell = math.Max(0.01, cell*1.5)
	}
	for pair, n := range s.beside {
		a, b := of[pair[0]], of[pair[1]]
		if a != b {
			g.groups[a].beside[b] += n
			g.groups[b].beside[a] += n
			g.groups[a].border += n
			g.groups[b].border += n
		}
	}
	return g
}

// take adds a shade to a group.
func (a *group) take(i int32, shade *Shade, fixed bool) {
	area := math.Max(shade.Area, 1e-7)
	for k := range a.mean {
		a.mean[k] = (a.mean[k]*a.area + shade.lab[k]*area) / (a.area + area)
	}
	a.members = append(a.members, i)
	a.area += area
	a.weight = math.Pow(a.area, smallAreas)
	if fixed {
		a.fixed = i
	}
}

// price returns what it costs to make one of two groups, and how far apart they are.
func (g *gathering) price(a, b int32) (cost, apart float64) {
	x, y := g.groups[a], g.groups[b]
	apart = x.mean.apart(y.mean)
	if x.fixed >= 0 && y.fixed >= 0 {
		return math.Inf(1), apart
	}
	w := x.weight * y.weight / (x.weight + y.weight)
	switch { // only the other one changes
	case x.fixed >= 0 && y.fixed < 0:
		w = y.weight
	case y.fixed >= 0 && x.fixed < 0:
		w = x.weight
	}
	share := 0.0
	if n := x.beside[b]; n > 0 {
		share = n / math.Min(x.border, y.border)
	}
	return w * apart * apart * (1 - besideSaves*share), apart
}

// nearest finds the group that a would go with first.
func (g *gathering) nearest(a int32, within float64) {
	x := g.groups[a]
	x.near, x.cost = -1, math.Inf(1)
	for b := range g.groups {
		if g.groups[b].gone || int32(b) == a {
			continue
		}
		cost, apart := g.price(a, int32(b))
		if cost < x.cost && (within == 0 || apart < within) {
			x.near, x.cost = int32(b), cost
		}
	}
}

// merge makes groups fewer until there are no more than want, or none are less than within apart.
func (g *gathering) merge(ctx context.Context, want int, within float64) error {
	left := len(g.groups)
	if within > 0 {
		want = 1
	} else if left <= want {
		return nil
	}
	for a := range g.groups {
		if err := ctx.Err(); err != nil {
			return err
		}
		g.nearest(int32(a), within)
	}
	for ; left > want; left-- {
		if err := ctx.Err(); err != nil {
			return err
		}
		a := int32(-1)
		for i, x := range g.groups {
			if !x.gone && x.near >= 0 && (a < 0 || x.cost < g.groups[a].cost) {
				a = int32(i)
			}
		}
		if a < 0 { // what is left keeps its own
			return nil
		}
		g.join(a, g.groups[a].near, within)
	}
	return nil
}

// join makes one of two groups.
func (g *gathering) join(a, b int32, within float64) {
	a, b = min(a, b), max(a, b)
	x, y := g.groups[a], g.groups[b]
	if y.fixed >= 0 && (x.fixed < 0 || y.area > x.area) {
		x.fixed = y.fixed
	}
	for k := range x.mean {
		x.mean[k] = (x.mean[k]*x.area + y.mean[k]*y.area) / (x.area + y.area)
	}
	if x.fixed >= 0 {
		x.mean = g.shades.List[x.fixed].lab
	}
	x.members = append(x.members, y.members...)
	x.area += y.area
	x.weight = math.Pow(x.area, smallAreas)
	x.border += y.border - 2*x.beside[b]
	delete(x.beside, b)
	delete(y.beside, a)
	for c, n := range y.beside {
		x.beside[c] += n
		other := g.groups[c].beside
		delete(other, b)
		other[a] += n
	}
	y.gone = true
	g.nearest(a, within)
	for c, z := range g.groups {
		if z.gone || int32(c) == a {
			continue
		}
		if z.near == a || z.near == b {
			g.nearest(int32(c), within)
			continue
		}
		if cost, apart := g.price(int32(c), a); cost < z.cost && (within == 0 || apart < within) {
			z.near, z.cost = a, cost
		}
	}
}

// settleRounds is how often shades change their groups at most.
const settleRounds = 4

// A shade leaves its group for another one whose colour is nearer than this share of the distance to its
// own: by less, it stays with those that it lies beside.
const leavesFor = 0.6

// middle returns the member from whose colour the others differ least, by area: a colour of the artwork, and most
// likely one of which much is seen, where a mean may be a colour of nothing.
func (g *gathering) middle(x *group) int32 {
	if x.fixed >= 0 {
		return x.fixed
	}
	weights := make([]float64, len(x.members))
	for i, o := range x.members {
		weights[i] = math.Pow(math.Max(g.shades.List[o].Area, 1e-7), smallAreas)
	}
	best, least := x.members[0], math.Inf(1)
	for _, m := range g.seenMost(x.members) {
		sum := 0.0
		for i, o := range x.members {
			if sum += weights[i] * g.shades.List[m].lab.apart(g.shades.List[o].lab); sum >= least {
				break
			}
		}
		if sum < least {
			best, least = m, sum
		}
	}
	return best
}

// mostMiddles is how many shades of a group may become its colour: of more, those that are seen most.
const mostMiddles = 400

func (g *gathering) seenMost(members []int32) []int32 {
	if len(members) <= mostMiddles {
		return members
	}
	list := slices.Clone(members)
	slices.SortStableFunc(list, func(a, b int32) int { return cmp.Compare(g.shades.List[b].Area, g.shades.List[a].Area) })
	return list[:mostMiddles]
}

// settle lets shades go to groups whose colour is much nearer, and reports whether any went.
func (g *gathering) settle() bool {
	var left []*group
	var middles []int32
	var colors []Lab
	for _, x := range g.groups {
		if !x.gone {
			left, middles = append(left, x), append(middles, g.middle(x))
			colors = append(colors, g.shades.List[middles[len(middles)-1]].lab)
		}
	}
	went := false
	members := make([][]int32, len(left))
	for i, x := range left {
		mid := middles[i]
		for _, m := range x.members {
			lab := g.shades.List[m].lab
			to, least := i, leavesFor*lab.apart(colors[i])
			for k := range left {
				if d := lab.apart(colors[k]); d < least && m != mid {
					to, least = k, d
				}
			}
			went = went || to != i
			members[to] = append(members[to], m)
		}
	}
	for i, x := range left {
		x.members = members[i]
	}
	return went
}

// result gives each group its colour: that of a fixed shade, the given one that is nearest, or that of its
// middle. Single shades go where somebody moved them.
func (g *gathering) result(p *recipe.Palette) *Gathered {
	s := g.shades
	out := &Gathered{Shades: s.List, To: make([]string, len(s.List)), Map: map[string]string{}}
	for _, x := range g.groups {
		if x.gone {
			continue
		}
		hex := ""
		switch {
		case g.given && p.Count == 0 && p.Distance == 0: // each shade by itself
		case g.given:
			hex = nearestOf(s.List[g.middle(x)].lab, p.Given)
		default:
			hex = s.List[g.middle(x)].Hex
		}
		for _, m := range x.members {
			if out.To[m] = hex; hex == "" {
				out.To[m] = nearestOf(s.List[m].lab, p.Given)
			}
		}
	}
	left := slices.Compact(slices.Sorted(slices.Values(out.To)))
	for i := range s.List {
		if to, ok := p.Moved[s.List[i].Hex]; ok {
			c, _ := artwork.ParseHex(to)
			out.To[i] = nearestOf(LabOf(c), left)
		}
		out.Map[s.List[i].Hex] = out.To[i]
	}
	out.measure()
	return out
}

// nearestOf returns the colour of a list that is nearest to another.
func nearestOf(l Lab, list []string) string {
	best, least := "", math.Inf(1)
	for _, hex := range list {
		c, _ := artwork.ParseHex(hex)
		if d := l.To(LabOf(c)); d < least {
			best, least = hex, d
		}
	}
	return best
}

// measure works out which colours are left and by how much they differ from the shades.
func (g *Gathered) measure() {
	area := map[string]float64{}
	for i := range g.Shades {
		shade := &g.Shades[i]
		area[g.To[i]] += shade.Area
		c, _ := artwork.ParseHex(g.To[i])
		d := shade.lab.To(LabOf(c))
		g.Mean += d * shade.Area
		if shade.Area > 0 {
			g.Most = math.Max(g.Most, d)
		}
	}
	for hex := range area {
		g.Colors = append(g.Colors, hex)
	}
	slices.SortFunc(g.Colors, func(a, b string) int {
		switch {
		case area[a] > area[b]:
			return -1
		case area[a] < area[b]:
			return 1
		case a < b:
			return -1
		}
		return 1
	})
	for _, hex := range g.Colors {
		g.Area = append(g.Area, area[hex])
	}
}
