package ps

import (
	"math"
	"strconv"
)

// op is an operator.
type op = func(*machine) error

// tables lists all operators by topic, a file each (op_*.go).
var tables = []map[string]op{
	stackOps, arithOps, relationOps, controlOps, valueOps, dictOps, fileOps, systemOps,
	stateOps, matrixOps, pathOps, paintOps, colorOps, fontOps, deviceOps, userPathTable, otherOps,
}

func first(a, b error) error {
	if a != nil {
		return a
	}
	return b
}

func (m *machine) copyTop(n int) error {
	if n < 0 || n >= len(m.stack) {
		return m.err("stackunderflow")
	}
	return m.push(m.stack[len(m.stack)-1-n])
}

func (m *machine) roll(n, j int) error {
	if n < 0 || n > len(m.stack) {
		return m.err("rangecheck")
	}
	if n < 2 {
		return nil
	}
	s := m.stack[len(m.stack)-n:]
	j = ((j % n) + n) % n
	tmp := append(append([]object(nil), s[n-j:]...), s[:n-j]...)
	copy(s, tmp)
	return nil
}

func (m *machine) bind(a *array, depth int) {
	if depth > 50 {
		return
	}
	for i, o := range a.v {
		switch {
		case o.kind == kName && o.exec:
			if v, ok := m.lookup(o.s); ok && v.kind == kOp {
				a.v[i] = v
			}
		case o.kind == kArray && o.exec:
			m.bind(o.ref.(*array), depth+1)
		}
	}
}

func (m *machine) loop(body func() (bool, error)) error {
	for !m.done {
		m.budget.Visit()
		more, err := body()
		if err == errExit {
			return nil
		}
		if err != nil || !more {
			return err
		}
	}
	return nil
}

func opFor(m *machine) error {
	p, err := m.proc()
	if err != nil {
		return err
	}
	if len(m.stack) < 3 {
		return m.err("stackunderflow")
	}
	whole := true
	for _, o := range m.stack[len(m.stack)-3:] {
		whole = whole && o.kind == kInt
	}
	a, err := m.nums(3)
	if err != nil {
		return err
	}
	v := a[0]
	return m.loop(func() (bool, error) {
		if a[1] >= 0 && v > a[2] || a[1] < 0 && v < a[2] {
			return false, nil
		}
		if whole {
			m.push(integer(int(v)))
		} else {
			m.push(realNum(v))
		}
		v += a[1]
		return true, m.call(p)
	})
}

func opRepeat(m *machine) error {
	p, err := m.proc()
	if err != nil {
		return err
	}
	n, err := m.intArg()
	if err != nil {
		return err
	}
	i := 0
	return m.loop(func() (bool, error) {
		if i >= n {
			return false, nil
		}
		i++
		return true, m.call(p)
	})
}

func opForall(m *machine) error {
	p, err := m.proc()
	if err != nil {
		return err
	}
	o, err := m.pop()
	if err != nil {
		return err
	}
	i := 0
	switch r := o.ref.(type) {
	case *array:
		return m.loop(func() (bool, error) {
			if i >= len(r.v) {
				return false, nil
			}
			i++
			return true, first(m.push(r.v[i-1]), m.call(p))
		})
	case *str:
		return m.loop(func() (bool, error) {
			if i >= len(r.b) {
				return false, nil
			}
			i++
			return true, first(m.push(integer(int(r.b[i-1]))), m.call(p))
		})
	case *dict:
		keys := append([]string(nil), r.keys...)
		return m.loop(func() (bool, error) {
			for i < len(keys) {
				k := keys[i]
				i++
				if v, ok := r.m[k]; ok {
					ko := name(k, false)
					if k != "" && k[0] == 0 {
						n, _ := strconv.Atoi(k[1:])
						ko = integer(n)
					}
					return true, first(first(m.push(ko), m.push(v)), m.call(p))
				}
			}
			return false, nil
		})
	}
	return m.err("typecheck")
}

func arith(f func(a, b float64) float64, whole bool) op {
	return func(m *machine) error {
		ints := len(m.stack) >= 2 && m.stack[len(m.stack)-1].kind == kInt &&
			m.stack[len(m.stack)-2].kind == kInt
		a, err := m.nums(2)
		if err != nil {
			return err
		}
		v := f(a[0], a[1])
		if ints && whole && math.Abs(v) < 1<<31 {
			return m.push(integer(int(v)))
		}
		return m.push(realNum(v))
	}
}

func unary(f func(float64) float64) op {
	return func(m *machine) error {
		o, err := m.pop()
		if err != nil {
			return err
		}
		switch o.kind {
		case kInt:
			return m.push(integer(int(f(o.f))))
		case kReal:
			return m.push(realNum(f(o.f)))
		}
		return m.err("typecheck")
	}
}

func realOp(n int, f func([]float64) float64) op {
	return func(m *machine) error {
		a, err := m.nums(n)
		if err != nil {
			return err
		}
		v := f(a)
		if math.IsNaN(v) || math.IsInf(v, 0) {
			return m.err("undefinedresult")
		}
		return m.push(realNum(v))
	}
}

func intOp(f func(a, b int) (int, bool)) op {
	return func(m *machine) error {
		b, err := m.intArg()
		if err != nil {
			return err
		}
		a, err := m.intArg()
		if err != nil {
			return err
		}
		v, ok := f(a, b)
		if !ok {
			return m.err("undefinedresult")
		}
		return m.push(integer(v))
	}
}

func logic(f func(a, b int) int) op {
	return func(m *machine) error {
		a, b, err := m.pop2()
		if err != nil {
			return err
		}
		switch {
		case a.kind == kBool && b.kind == kBool:
			return m.push(boolean(f(a.n, b.n) != 0))
		case a.kind == kInt && b.kind == kInt:
			return m.push(integer(f(a.n, b.n)))
		}
		return m.err("typecheck")
	}
}

func (m *machine) compare(f func(int) bool, any bool) error {
	a, b, err := m.pop2()
	if err != nil {
		return err
	}
	c := 1
	switch {
	case a.number() && b.number():
		c = 0
		if a.f < b.f {
			c = -1
		} else if a.f > b.f {
			c = 1
		}
	case (a.kind == kString || a.kind == kName) && (b.kind == kString || b.kind == kName):
		switch x, y := key(a), key(b); {
		case x == y:
			c = 0
		case x < y:
			c = -1
		}
	case !any:
		return m.err("typecheck")
	case a.kind == b.kind && a.kind != kOp:
		if a.n == b.n && a.s == b.s && a.ref == b.ref {
			c = 0
		}
	}
	return m.push(boolean(f(c)))
}
