package ps

import (
	"math"
	"sort"
	"strconv"

	"bildhauer/core/read/budget"
)

type op = func(*machine) error

// language holds the operators on operands, dictionaries, arrays, strings and
// control (PLRM 8.1).
var language map[string]op

func init() {
	language = map[string]op{
		"pop":  func(m *machine) error { _, err := m.pop(); return err },
		"exch": func(m *machine) error { return m.roll(2, 1) },
		"dup":  func(m *machine) error { return m.copyTop(0) },
		"index": func(m *machine) error {
			n, err := m.intArg()
			if err != nil {
				return err
			}
			return m.copyTop(n)
		},
		"roll": func(m *machine) error {
			a, err := m.nums(2)
			if err != nil {
				return err
			}
			return m.roll(int(a[0]), int(a[1]))
		},
		"clear": func(m *machine) error { m.stack = m.stack[:0]; return nil },
		"count": func(m *machine) error { return m.push(integer(len(m.stack))) },
		"mark":  func(m *machine) error { return m.push(object{kind: kMark}) },
		"cleartomark": func(m *machine) error {
			_, err := m.toMark()
			return err
		},
		"counttomark": func(m *machine) error {
			for i := len(m.stack) - 1; i >= 0; i-- {
				if m.stack[i].kind == kMark {
					return m.push(integer(len(m.stack) - 1 - i))
				}
			}
			return m.err("unmatchedmark")
		},
		"copy": opCopy,

		"add": arith(func(a, b float64) float64 { return a + b }, true),
		"sub": arith(func(a, b float64) float64 { return a - b }, true),
		"mul": arith(func(a, b float64) float64 { return a * b }, true),
		"div": func(m *machine) error {
			a, err := m.nums(2)
			if err != nil {
				return err
			}
			if a[1] == 0 {
				return m.err("undefinedresult")
			}
			return m.push(realNum(a[0] / a[1]))
		},
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
			if b >= 0 {
				return int(int32(uint32(a) << min(b, 63))), true
			}
			return int(uint32(a) >> min(-b, 63)), true
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
		"rand": func(m *machine) error {
			m.rand = m.rand*1103515245 + 12345
			return m.push(integer(int(m.rand >> 1)))
		},
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

		"eq":  func(m *machine) error { return m.compare(func(c int) bool { return c == 0 }, true) },
		"ne":  func(m *machine) error { return m.compare(func(c int) bool { return c != 0 }, true) },
		"lt":  func(m *machine) error { return m.compare(func(c int) bool { return c < 0 }, false) },
		"le":  func(m *machine) error { return m.compare(func(c int) bool { return c <= 0 }, false) },
		"gt":  func(m *machine) error { return m.compare(func(c int) bool { return c > 0 }, false) },
		"ge":  func(m *machine) error { return m.compare(func(c int) bool { return c >= 0 }, false) },
		"and": logic(func(a, b int) int { return a & b }),
		"or":  logic(func(a, b int) int { return a | b }),
		"xor": logic(func(a, b int) int { return a ^ b }),
		"not": func(m *machine) error {
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
		},

		"exec": func(m *machine) error {
			o, err := m.pop()
			if err != nil {
				return err
			}
			return m.exec(o, false)
		},
		"if": func(m *machine) error {
			p, err := m.pop()
			if err != nil {
				return err
			}
			b, err := m.boolArg()
			if err != nil || !b {
				return err
			}
			return m.exec(p, false)
		},
		"ifelse": func(m *machine) error {
			p, q, err := m.pop2()
			if err != nil {
				return err
			}
			b, err := m.boolArg()
			if err != nil {
				return err
			}
			if b {
				return m.exec(p, false)
			}
			return m.exec(q, false)
		},
		"for":    opFor,
		"repeat": opRepeat,
		"loop": func(m *machine) error {
			p, err := m.proc()
			if err != nil {
				return err
			}
			return m.loop(func() (bool, error) { return true, m.call(p) })
		},
		"forall": opForall,
		"exit":   func(*machine) error { return errExit },
		"stop":   func(*machine) error { return errStop },
		"quit":   func(*machine) error { return errQuit },
		"stopped": func(m *machine) error {
			o, err := m.pop()
			if err != nil {
				return err
			}
			err = m.exec(o, false) // dictionaries that it opened stay open
			if f, ok := err.(*fail); ok || err == errStop {
				if ok {
					m.lastErr = f.name
				}
				return m.push(boolean(true))
			}
			return first(err, m.push(boolean(false)))
		},

		"[": func(m *machine) error { return m.push(object{kind: kMark}) },
		"]": func(m *machine) error {
			v, err := m.toMark()
			if err != nil {
				return err
			}
			return m.push(object{kind: kArray, ref: &array{v}})
		},
		"<<": func(m *machine) error { return m.push(object{kind: kMark}) },
		">>": func(m *machine) error {
			v, err := m.toMark()
			if err != nil {
				return err
			}
			d := newDict()
			for i := 0; i+1 < len(v); i += 2 {
				d.put(key(v[i]), v[i+1])
			}
			return m.push(object{kind: kDict, ref: d})
		},
		"array": func(m *machine) error {
			n, err := m.size()
			if err != nil {
				return err
			}
			return m.push(object{kind: kArray, ref: &array{make([]object, n)}})
		},
		"string": func(m *machine) error {
			n, err := m.size()
			if err != nil {
				return err
			}
			return m.push(object{kind: kString, ref: &str{make([]byte, n)}})
		},
		"dict": func(m *machine) error {
			_, err := m.intArg()
			return first(err, m.push(object{kind: kDict, ref: newDict()}))
		},
		"length":      opLength,
		"maxlength":   func(m *machine) error { _, err := m.pop(); return first(err, m.push(integer(1000))) },
		"get":         opGet,
		"put":         opPut,
		"getinterval": opGetInterval,
		"putinterval": opPutInterval,
		"aload": func(m *machine) error {
			o, err := m.pop()
			if err != nil {
				return err
			}
			a, ok := o.ref.(*array)
			if !ok {
				return m.err("typecheck")
			}
			for _, e := range a.v {
				if err := m.push(e); err != nil {
					return err
				}
			}
			return m.push(o)
		},
		"astore": func(m *machine) error {
			o, err := m.pop()
			if err != nil {
				return err
			}
			a, ok := o.ref.(*array)
			if !ok || len(m.stack) < len(a.v) {
				return m.err("stackunderflow")
			}
			copy(a.v, m.stack[len(m.stack)-len(a.v):])
			m.stack = m.stack[:len(m.stack)-len(a.v)]
			return m.push(o)
		},
		"anchorsearch": func(m *machine) error { return m.search(true) },
		"search":       func(m *machine) error { return m.search(false) },
		"token":        opToken,

		"def": func(m *machine) error {
			k, v, err := m.pop2()
			if err != nil {
				return err
			}
			m.budget.Spend(budget.Memory, 1)
			m.dicts[len(m.dicts)-1].put(key(k), v)
			return nil
		},
		"store": func(m *machine) error {
			k, v, err := m.pop2()
			if err != nil {
				return err
			}
			for i := len(m.dicts) - 1; i >= 0; i-- {
				if _, ok := m.dicts[i].m[key(k)]; ok {
					m.dicts[i].put(key(k), v)
					return nil
				}
			}
			m.dicts[len(m.dicts)-1].put(key(k), v)
			return nil
		},
		"load": func(m *machine) error {
			k, err := m.pop()
			if err != nil {
				return err
			}
			v, ok := m.lookup(key(k))
			if !ok {
				m.op = key(k) + " load"
				return m.err("undefined")
			}
			return m.push(v)
		},
		"begin": func(m *machine) error {
			o, err := m.pop()
			if err != nil {
				return err
			}
			d, ok := o.ref.(*dict)
			if !ok {
				return m.err("typecheck")
			}
			if len(m.dicts) > maxDicts {
				return m.err("dictstackoverflow")
			}
			m.dicts = append(m.dicts, d)
			return nil
		},
		"end": func(m *machine) error {
			if len(m.dicts) <= 2 {
				return m.err("dictstackunderflow")
			}
			m.dicts = m.dicts[:len(m.dicts)-1]
			return nil
		},
		"known": func(m *machine) error {
			o, k, err := m.pop2()
			if err != nil {
				return err
			}
			d, ok := o.ref.(*dict)
			if !ok {
				return m.err("typecheck")
			}
			_, has := d.m[key(k)]
			return m.push(boolean(has))
		},
		"where": func(m *machine) error {
			k, err := m.pop()
			if err != nil {
				return err
			}
			for i := len(m.dicts) - 1; i >= 0; i-- {
				if _, ok := m.dicts[i].m[key(k)]; ok {
					m.push(object{kind: kDict, ref: m.dicts[i]})
					return m.push(boolean(true))
				}
			}
			return m.push(boolean(false))
		},
		"undef": func(m *machine) error {
			k, err := m.pop()
			if err != nil {
				return err
			}
			o, err := m.pop()
			if d, ok := o.ref.(*dict); ok {
				delete(d.m, key(k))
			}
			return err
		},
		"currentdict":    func(m *machine) error { return m.push(object{kind: kDict, ref: m.dicts[len(m.dicts)-1]}) },
		"countdictstack": func(m *machine) error { return m.push(integer(len(m.dicts))) },
		"cleardictstack": func(m *machine) error { m.dicts = m.dicts[:2]; return nil },
		"dictstack": func(m *machine) error {
			o, err := m.pop()
			if a, ok := o.ref.(*array); ok {
				n := min(len(a.v), len(m.dicts))
				for i := range n {
					a.v[i] = object{kind: kDict, ref: m.dicts[i]}
				}
				return m.push(object{kind: kArray, ref: &array{a.v[:n]}})
			}
			return err
		},
		"bind": func(m *machine) error {
			o, err := m.pop()
			if err != nil {
				return err
			}
			if a, ok := o.ref.(*array); ok && o.exec {
				m.bind(a, 0)
			}
			return m.push(o)
		},
		"currentfile": func(m *machine) error {
			if m.src == nil {
				return m.push(object{kind: kFile, ref: &scanner{}})
			}
			return m.push(object{kind: kFile, ref: m.src})
		},
		"file": func(m *machine) error { return m.err("undefinedfilename") },
		"closefile": func(m *machine) error {
			o, err := m.pop()
			if s, ok := o.ref.(*scanner); ok && (s.sealed || s != m.src) {
				s.i = len(s.b)
			}
			return err
		},
		"flushfile": func(m *machine) error {
			s, err := m.fileArg()
			if err == nil && s != m.src {
				s.i = len(s.b)
			}
			return err
		},
		"resetfile": func(m *machine) error { _, err := m.pop(); return err },
		"status":    func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(true))) },
		"bytesavailable": func(m *machine) error {
			s, err := m.fileArg()
			if err != nil {
				return err
			}
			return m.push(integer(len(s.b) - s.i))
		},
		"fileposition": func(m *machine) error {
			s, err := m.fileArg()
			if err != nil {
				return err
			}
			return m.push(integer(s.i))
		},
		"setfileposition": func(m *machine) error {
			n, err := m.intArg()
			if err != nil {
				return err
			}
			s, err := m.fileArg()
			if err != nil {
				return err
			}
			// Going back in the program itself would run it for ever.
			if s == m.src && n < s.i || n < 0 || n > len(s.b) {
				return m.err("ioerror")
			}
			s.i = n
			return nil
		},
		"filter":        opFilter,
		"readstring":    func(m *machine) error { return m.readString(false) },
		"readhexstring": func(m *machine) error { return m.readString(true) },
		"readline":      opReadline,
		"read": func(m *machine) error {
			s, err := m.fileArg()
			if err != nil {
				return err
			}
			if s.i >= len(s.b) {
				return m.push(boolean(false))
			}
			s.i++
			m.push(integer(int(s.b[s.i-1])))
			return m.push(boolean(true))
		},
		"eexec": opEexec,
		"save": func(m *machine) error {
			m.budget.Spend(budget.Memory, len(m.gs.path)+1)
			if len(m.saved) > maxSaved {
				return m.err("limitcheck")
			}
			m.saved = append(m.saved, m.gs.clone())
			return m.push(object{kind: kSave, n: len(m.saved) - 1})
		},
		"restore": func(m *machine) error {
			o, err := m.pop()
			if err != nil {
				return err
			}
			if o.kind != kSave {
				return m.err("typecheck")
			}
			if o.n < len(m.saved) {
				m.gs = m.saved[o.n]
				m.saved = m.saved[:o.n]
			}
			return nil
		},
		"readonly": func(*machine) error { return nil }, "executeonly": func(*machine) error { return nil }, "noaccess": func(*machine) error { return nil },
		"rcheck":         func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(true))) },
		"wcheck":         func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(true))) },
		"realtime":       func(m *machine) error { return m.push(integer(0)) },
		"usertime":       func(m *machine) error { return m.push(integer(0)) },
		"vmstatus":       func(m *machine) error { m.push(integer(0)); m.push(integer(0)); return m.push(integer(1 << 30)) },
		"print":          func(m *machine) error { _, err := m.pop(); return err },
		"=":              func(m *machine) error { _, err := m.pop(); return err },
		"==":             func(m *machine) error { _, err := m.pop(); return err },
		"flush":          func(*machine) error { return nil },
		"pstack":         func(*machine) error { return nil },
		"handleerror":    func(*machine) error { return nil },
		"setpacking":     func(m *machine) error { _, err := m.pop(); return err },
		"currentpacking": func(m *machine) error { return m.push(boolean(false)) },
		"setglobal":      func(m *machine) error { _, err := m.pop(); return err },
		"currentglobal":  func(m *machine) error { return m.push(boolean(false)) },
		"gcheck":         func(m *machine) error { _, err := m.pop(); return first(err, m.push(boolean(false))) },
		"packedarray": func(m *machine) error {
			n, err := m.intArg()
			if err != nil {
				return err
			}
			if n < 0 || n > len(m.stack) {
				return m.err("rangecheck")
			}
			v := append([]object(nil), m.stack[len(m.stack)-n:]...)
			m.stack = m.stack[:len(m.stack)-n]
			return m.push(object{kind: kArray, ref: &array{v}})
		},
		"internaldict": func(m *machine) error {
			_, err := m.pop()
			return first(err, m.push(object{kind: kDict, ref: newDict()}))
		},
		"findresource": func(m *machine) error {
			k, c, err := m.pop2()
			if err != nil {
				return err
			}
			if key(c) == "Font" {
				m.push(k)
				return graphics["findfont"](m)
			}
			if key(c) == "Category" {
				return m.push(object{kind: kDict, ref: newDict()})
			}
			if d, ok := m.resources[key(c)+"/"+key(k)]; ok {
				return m.push(d)
			}
			if key(c) == "Encoding" {
				if o, ok := m.lookup(key(k)); ok {
					return m.push(o)
				}
			}
			m.op = key(k) + " " + key(c) + " findresource"
			return m.err("undefinedresource")
		},
		"defineresource": func(m *machine) error {
			v, c, err := m.pop2()
			if err != nil {
				return err
			}
			k, err := m.pop()
			if err != nil {
				return err
			}
			m.resources[key(c)+"/"+key(k)] = v
			return m.push(v)
		},
		"resourcestatus": func(m *machine) error {
			k, c, err := m.pop2()
			if err != nil {
				return err
			}
			if _, ok := m.resources[key(c)+"/"+key(k)]; ok {
				m.push(integer(0))
				m.push(integer(0))
				return m.push(boolean(true))
			}
			return m.push(boolean(false))
		},
		"resourceforall": func(m *machine) error {
			for range 4 {
				if _, err := m.pop(); err != nil {
					return err
				}
			}
			return nil
		},
	}
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

// operators returns the names of all operators, for the system dictionary.
func operators() []string {
	var names []string
	for _, t := range []map[string]op{language, graphics} {
		for k := range t {
			names = append(names, k)
		}
	}
	sort.Strings(names)
	return names
}
