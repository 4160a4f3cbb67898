package plane

// FillRule says which winding numbers are inside.
type FillRule uint8

// The two rules of vector graphics, and the one for offset curves.
const (
	NonZero FillRule = iota
	EvenOdd
	Positive
)

// RuleOf returns the rule of a shape of vector graphics.
func RuleOf(evenOdd bool) FillRule {
	if evenOdd {
		return EvenOdd
	}
	return NonZero
}

// Inside reports whether winding number w is inside under the rule.
func (f FillRule) Inside(w int32) bool {
	switch f {
	case EvenOdd:
		return w&1 != 0
	case Positive:
		return w > 0
	}
	return w != 0
}

type fillOne struct {
	rule FillRule
	w    int32
}

func (f *fillOne) Cross(_, delta int32) { f.w += delta }
func (f *fillOne) Label() int32 {
	if f.rule.Inside(f.w) {
		return 1
	}
	return 0
}

// Fill returns the region that the loops enclose together under a rule.
func Fill(loops []Loop, rule FillRule) (Region, error) { return fillUntil(nil, loops, rule) }

// fillUntil is Fill that ends when stop says so.
func fillUntil(stop func() bool, loops []Loop, rule FillRule) (Region, error) {
	ar := NewArrangement()
	ar.Stop = stop
	for _, l := range loops {
		ar.AddLoop(0, l)
	}
	return ar.fill(rule)
}

func (ar *Arrangement) fill(rule FillRule) (Region, error) {
	if len(ar.segs) == 0 {
		return nil, nil
	}
	if err := ar.Build(); err != nil {
		return nil, err
	}
	defer ar.Release()
	ar.Classify(&fillOne{rule: rule})
	return ar.Regions()[1], nil
}
