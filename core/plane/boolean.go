package plane

// Op is a boolean operation on two regions.
type Op uint8

// The operations.
const (
	Union Op = iota
	Intersect
	Subtract
	Xor
)

type booleanRule struct {
	op Op
	w  [2]int32
}

func (b *booleanRule) Cross(s, delta int32) { b.w[s] += delta }
func (b *booleanRule) Label() int32 {
	p, q := b.w[0] != 0, b.w[1] != 0
	in := false
	switch b.op {
	case Union:
		in = p || q
	case Intersect:
		in = p && q
	case Subtract:
		in = p && !q
	case Xor:
		in = p != q
	}
	if in {
		return 1
	}
	return 0
}

// Combine returns a op b.
func Combine(a, b Region, op Op) (Region, error) { return CombineUntil(nil, a, b, op) }

// CombineUntil is Combine that ends with ErrStopped when stop says so.
func CombineUntil(stop func() bool, a, b Region, op Op) (Region, error) {
	ar := NewArrangement()
	ar.Stop = stop
	ar.AddRegion(0, a)
	ar.AddRegion(1, b)
	if len(ar.segs) == 0 {
		return nil, nil
	}
	if err := ar.Build(); err != nil {
		return nil, err
	}
	defer ar.Release()
	ar.Classify(&booleanRule{op: op})
	return ar.Regions()[1], nil
}
