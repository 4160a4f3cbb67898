package ps

import (
	"math"
	"strconv"
	"strings"

	"bildhauer/core/read/budget"
)

func (m *machine) toMark() ([]object, error) {
	for i := len(m.stack) - 1; i >= 0; i-- {
		if m.stack[i].kind == kMark {
			v := append([]object(nil), m.stack[i+1:]...)
			m.stack = m.stack[:i]
			return v, nil
		}
	}
	return nil, m.err("unmatchedmark")
}

func (m *machine) size() (int, error) {
	n, err := m.intArg()
	if err != nil {
		return 0, err
	}
	if n < 0 || n > maxLength {
		return 0, m.err("limitcheck")
	}
	m.budget.Spend(budget.Memory, n)
	return n, nil
}

func opCopy(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind == kInt {
		if o.n < 0 || o.n > len(m.stack) {
			return m.err("rangecheck")
		}
		for _, e := range append([]object(nil), m.stack[len(m.stack)-o.n:]...) {
			if err := m.push(e); err != nil {
				return err
			}
		}
		return nil
	}
	from, err := m.pop()
	if err != nil {
		return err
	}
	switch to := o.ref.(type) {
	case *array:
		if f, ok := from.ref.(*array); ok && len(f.v) <= len(to.v) {
			copy(to.v, f.v)
			return m.push(object{kind: kArray, exec: o.exec, ref: &array{to.v[:len(f.v)]}})
		}
	case *str:
		if f, ok := from.ref.(*str); ok && len(f.b) <= len(to.b) {
			copy(to.b, f.b)
			return m.push(object{kind: kString, ref: &str{to.b[:len(f.b)]}})
		}
	case *dict:
		if f, ok := from.ref.(*dict); ok {
			for _, k := range f.keys {
				if v, has := f.m[k]; has {
					to.put(k, v)
				}
			}
			return m.push(o)
		}
	}
	return m.err("typecheck")
}

func (m *machine) setExec(on bool) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind == kOp && !on {
		return m.push(o)
	}
	o.exec = on
	return m.push(o)
}

func opCvi(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind == kString {
		if o, _ = (&scanner{b: o.ref.(*str).b}).next(); !o.number() {
			return m.err("typecheck")
		}
	}
	if !o.number() {
		return m.err("typecheck")
	}
	return m.push(integer(int(math.Trunc(o.f))))
}

func opCvr(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	if o.kind == kString {
		o, _ = (&scanner{b: o.ref.(*str).b}).next()
	}
	if !o.number() {
		return m.err("typecheck")
	}
	return m.push(realNum(o.f))
}

func opCvn(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	s, ok := o.ref.(*str)
	if !ok {
		return m.err("typecheck")
	}
	return m.push(name(string(s.b), o.exec))
}

func opCvrs(m *machine) error {
	s, err := m.pop()
	if err != nil {
		return err
	}
	base, err := m.intArg()
	if err != nil {
		return err
	}
	m.push(s)
	return m.cvs(base)
}

// cvs writes a value into a string.
func (m *machine) cvs(base int) error {
	o, to, err := m.pop2()
	if err != nil {
		return err
	}
	s, ok := to.ref.(*str)
	if !ok || base < 2 || base > 36 {
		return m.err("typecheck")
	}
	text := "--nostringval--"
	switch o.kind {
	case kInt:
		text = strings.ToUpper(strconv.FormatInt(int64(o.n), base))
	case kReal:
		if base != 10 {
			text = strings.ToUpper(strconv.FormatInt(int64(o.n), base))
			break
		}
		text = strconv.FormatFloat(o.f, 'g', 6, 64)
		if !strings.ContainsAny(text, ".eIN") { // a real shows that it is one
			text += ".0"
		}
	case kBool:
		text = strconv.FormatBool(o.n != 0)
	case kName:
		text = o.s
	case kString:
		text = string(o.ref.(*str).b)
	}
	if len(text) > len(s.b) {
		return m.err("rangecheck")
	}
	n := copy(s.b, text)
	return m.push(object{kind: kString, ref: &str{s.b[:n]}})
}

func opType(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	names := map[kind]string{
		kNull:   "nulltype",
		kInt:    "integertype",
		kReal:   "realtype",
		kBool:   "booleantype",
		kName:   "nametype",
		kString: "stringtype",
		kArray:  "arraytype",
		kDict:   "dicttype",
		kMark:   "marktype",
		kOp:     "operatortype",
		kSave:   "savetype",
		kFile:   "filetype",
		kFont:   "dicttype",
		kGState: "gstatetype",
	}
	return m.push(name(names[o.kind], true))
}

func opLength(m *machine) error {
	o, err := m.pop()
	if err != nil {
		return err
	}
	switch r := o.ref.(type) {
	case *array:
		return m.push(integer(len(r.v)))
	case *str:
		return m.push(integer(len(r.b)))
	case *dict:
		return m.push(integer(len(r.m)))
	}
	if o.kind == kName {
		return m.push(integer(len(o.s)))
	}
	return m.err("typecheck")
}

func opGet(m *machine) error {
	o, k, err := m.pop2()
	if err != nil {
		return err
	}
	switch r := o.ref.(type) {
	case *array:
		if k.kind == kInt && k.n >= 0 && k.n < len(r.v) {
			return m.push(r.v[k.n])
		}
		return m.err("rangecheck")
	case *str:
		if k.kind == kInt && k.n >= 0 && k.n < len(r.b) {
			return m.push(integer(int(r.b[k.n])))
		}
		return m.err("rangecheck")
	case *dict:
		if v, ok := r.m[key(k)]; ok {
			return m.push(v)
		}
		return m.err("undefined")
	}
	return m.err("typecheck")
}

func opPut(m *machine) error {
	k, v, err := m.pop2()
	if err != nil {
		return err
	}
	o, err := m.pop()
	if err != nil {
		return err
	}
	switch r := o.ref.(type) {
	case *array:
		if k.kind == kInt && k.n >= 0 && k.n < len(r.v) {
			r.v[k.n] = v
			return nil
		}
		return m.err("rangecheck")
	case *str:
		if k.kind == kInt && k.n >= 0 && k.n < len(r.b) {
			r.b[k.n] = byte(v.n)
			return nil
		}
		return m.err("rangecheck")
	case *dict:
		m.budget.Spend(budget.Memory, 1)
		r.put(key(k), v)
		return nil
	}
	return m.err("typecheck")
}

func opGetInterval(m *machine) error {
	a, err := m.nums(2)
	if err != nil {
		return err
	}
	o, err := m.pop()
	if err != nil {
		return err
	}
	i, n := int(a[0]), int(a[1])
	switch r := o.ref.(type) {
	case *array:
		if i >= 0 && n >= 0 && i+n <= len(r.v) {
			return m.push(object{kind: kArray, exec: o.exec, ref: &array{r.v[i : i+n]}})
		}
		return m.err("rangecheck")
	case *str:
		if i >= 0 && n >= 0 && i+n <= len(r.b) {
			return m.push(object{kind: kString, exec: o.exec, ref: &str{r.b[i : i+n]}})
		}
		return m.err("rangecheck")
	}
	return m.err("typecheck")
}

func opPutInterval(m *machine) error {
	v, err := m.pop()
	if err != nil {
		return err
	}
	i, err := m.intArg()
	if err != nil {
		return err
	}
	o, err := m.pop()
	if err != nil {
		return err
	}
	switch r := o.ref.(type) {
	case *array:
		if f, ok := v.ref.(*array); ok && i >= 0 && i+len(f.v) <= len(r.v) {
			copy(r.v[i:], f.v)
			return nil
		}
	case *str:
		if f, ok := v.ref.(*str); ok && i >= 0 && i+len(f.b) <= len(r.b) {
			copy(r.b[i:], f.b)
			return nil
		}
	}
	return m.err("rangecheck")
}

func (m *machine) search(anchored bool) error {
	in, seek, err := m.pop2()
	if err != nil {
		return err
	}
	s, ok1 := in.ref.(*str)
	k, ok2 := seek.ref.(*str)
	if !ok1 || !ok2 {
		return m.err("typecheck")
	}
	last := len(s.b) - len(k.b)
	if anchored {
		last = min(last, 0)
	}
	for i := 0; i <= last; i++ {
		if string(s.b[i:i+len(k.b)]) != string(k.b) {
			continue
		}
		m.push(object{kind: kString, ref: &str{s.b[i+len(k.b):]}})
		m.push(object{kind: kString, ref: &str{s.b[i : i+len(k.b)]}})
		if !anchored {
			m.push(object{kind: kString, ref: &str{s.b[:i]}})
		}
		return m.push(boolean(true))
	}
	m.push(in)
	return m.push(boolean(false))
}
