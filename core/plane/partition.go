package plane

// Partition is Stack for regions that are to be raised side by side. It holds, beyond
// what Stack holds, that
//
//  1. neighbours have all points of their common borders in common, those in the middle
//     of a straight run as well where a third one meets them;
//  2. in no point more than three areas meet, what is outside among them.
//
// Where more would, a square of twice gap across goes to what is outside, if that is
// one of them, so that corners are cut apart; else to the one with the lowest label.
func Partition(layers []Layer, gap int32, stop func() bool) (map[int32]Region, error) {
	return groupwise(layers, func(group []Layer) (map[int32]Region, error) {
		return partitionGroup(group, gap, stop)
	})
}

// partitionGroup is Partition for layers that may overlap.
func partitionGroup(layers []Layer, gap int32, stop func() bool) (map[int32]Region, error) {
	if unclipped(layers) {
		one, err := stackGroup(layers, stop)
		if err != nil || !one[layers[0].Label].Touches() {
			return one, err
		}
	}
	var squares []square
	for try := int32(0); ; try++ {
		ar := NewArrangement()
		ar.Stop = stop
		rule := &squareRule{under: newStackRule(layers, ar, 0), squares: squares}
		rule.first = int32(len(rule.under.rules))
		for i, s := range squares {
			ar.AddLoop(rule.first+int32(i), s.loop())
		}
		if len(ar.segs) == 0 {
			return nil, nil
		}
		if err := ar.Build(); err != nil {
			return nil, err
		}
		ar.Classify(rule)
		more := ar.crowded(gap + gap*try/3)
		if len(more) == 0 || try >= partitionTries {
			out := ar.Regions()
			ar.Release()
			return out, nil
		}
		squares = append(squares, more...)
		ar.Release()
	}
}

// partitionTries bounds how often squares are set where others have not helped; what is
// left then is cut apart by Separate when it is raised.
const partitionTries = 6

// square is a small area around a crowded point, standing on its corner.
type square struct {
	at    Point
	half  int32
	label int32
}

func (s *square) loop() Loop {
	x, y, r := s.at.X, s.at.Y, s.half
	return Loop{{x - r, y}, {x, y - r}, {x + r, y}, {x, y + r}}
}

// crowded returns squares around the points in which more than three faces meet.
func (ar *Arrangement) crowded(half int32) []square {
	var out []square
	for v, n := range ar.t.forks() {
		if n <= 3 {
			continue
		}
		lowest := int32(1<<31 - 1)
		ar.Star(int32(v), func(k int32) { lowest = min(lowest, ar.t.tris[k].tag) })
		out = append(out, square{ar.t.pts[v], half, lowest})
	}
	return out
}

// squareRule labels faces as another rule does, but for squares.
type squareRule struct {
	under   *stackRule
	first   int32 // source of the first square
	squares []square
	in      []int32 // those around the face
}

func (s *squareRule) Cross(src, delta int32) {
	n := src - s.first
	if n < 0 {
		s.under.Cross(src, delta)
		return
	}
	if delta > 0 {
		s.in = append(s.in, n)
		return
	}
	for i, m := range s.in {
		if m == n {
			s.in = append(s.in[:i], s.in[i+1:]...)
			return
		}
	}
}

func (s *squareRule) Label() int32 {
	if len(s.in) == 0 {
		return s.under.Label()
	}
	last := s.in[0]
	for _, n := range s.in {
		last = max(last, n)
	}
	return s.squares[last].label
}
