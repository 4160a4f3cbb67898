package ps

import (
	"math"
)

// arithOps are the operators on numbers, and conversions between types.
var arithOps = map[string]op{
	"add": arith(func(a, b float64) float64 { return a + b }, true),
	"sub": arith(func(a, b float64) float64 { return a - b }, true),
	"mul": arith(func(a, b float64) float64 { return a * b }, true),
	"div": opDiv,
	"idiv": intOp(func(a, b int) (int, bool) {
		if b == 0 {
			return 0, false
		}
		return a / b, true
	}),
	"mod": intOp(func(a, b int) (int, bool) {
		if b == 0 {
			return 0, false
		}
		return a % b, true
	}),
	"bitshift": intOp(func(a, b int) (int, bool) {
		// Clamped first: the smallest int has no negative of its own.
		b = max(-63, min(63, b))
		if b >= 0 {
			return int(int32(uint32(a) << b)), true
		}
		return int(uint32(a) >> -b), true
	}),
	"neg":      unary(func(a float64) float64 { return -a }),
	"abs":      unary(math.Abs),
	"ceiling":  unary(math.Ceil),
	"floor":    unary(math.Floor),
	"round":    unary(func(a float64) float64 { return math.Floor(a + 0.5) }),
	"truncate": unary(math.Trunc),
	"sqrt":     realOp(1, func(a []float64) float64 { return math.Sqrt(a[0]) }),
	"sin":      realOp(1, func(a []float64) float64 { return math.Sin(a[0] * math.Pi / 180) }),
	"cos":      realOp(1, func(a []float64) float64 { return math.Cos(a[0] * math.Pi / 180) }),
	"ln":       realOp(1, func(a []float64) float64 { return math.Log(a[0]) }),
	"log":      realOp(1, func(a []float64) float64 { return math.Log10(a[0]) }),
	"exp":      realOp(2, func(a []float64) float64 { return math.Pow(a[0], a[1]) }),
	"atan": realOp(2, func(a []float64) float64 {
		d := math.Atan2(a[0], a[1]) * 180 / math.Pi
		if d < 0 {
			d += 360
		}
		return d
	}),
	"rand":   opRand,
	"srand":  func(m *machine) error { n, err := m.intArg(); m.rand = uint32(n); return err },
	"rrand":  func(m *machine) error { return m.push(integer(int(m.rand >> 1))) },
	"cvi":    opCvi,
	"cvr":    opCvr,
	"cvn":    opCvn,
	"cvs":    func(m *machine) error { return m.cvs(10) },
	"cvrs":   opCvrs,
	"cvx":    func(m *machine) error { return m.setExec(true) },
	"cvlit":  func(m *machine) error { return m.setExec(false) },
	"xcheck": func(m *machine) error { o, err := m.pop(); return first(err, m.push(boolean(o.exec))) },
	"type":   opType,
}

func opDiv(m *machine) error {
	a, err := m.nums(2)
	if err != nil {
		return err
	}
	if a[1] == 0 {
		return m.err("undefinedresult")
	}
	return m.push(realNum(a[0] / a[1]))
}

func opRand(m *machine) error {
	m.rand = m.rand*1103515245 + 12345
	return m.push(integer(int(m.rand >> 1)))
}

// relationOps are the operators that compare and that work on bits.
var relationOps = map[string]op{
	"eq":  func(m *machine) error { return m.compare(func(c int) bool { return c == 0 }, true) },
	"ne":  func(m *machine) error { return m.compare(func(c int) bool { return c != 0 }, true) },
	"lt":  func(m *machine) error { return m.compare(func(c int) bool { return c < 0 }, false) },
	"le":  func(m *machine) error { return m.compare(func(c int) bool { return c <= 0 }, false) },
	"gt":  func(m *machine) error { return m.compare(func(c int) bool { return c > 0 }, false) },
	"ge":  func(m *machine) error { return m.compare(func(c int) bool { return c >= 0 }, false) },
	"and": logic(func(a, b int) int { return a & b }),
	"or":  logic(func(a, b int) int { return a | b }),
	"xor": logic(func(a, b int) int { return a ^ b }),
	"not": opNot,
}

func opNot(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind == kBool {
		return m.push(boolean(o.n == 0))
	}
	if o.kind != kInt {
		return m.err("typecheck")
	}
	return m.push(integer(^o.n))
}
