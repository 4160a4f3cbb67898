package ink

import (
	"math"
	"strconv"
	"strings"
)

// Function maps numbers to numbers (PLRM 3.10, ISO 32000-1 7.10). Eval never
// fails: inputs are clamped and missing results are zero.
type Function interface {
	Eval(in []float64) []float64
}

// Exponential interpolates between C0 and C1 (type 2).
type Exponential struct {
	Domain, Range, C0, C1 []float64
	N                     float64
}

// Eval implements Function.
func (f *Exponential) Eval(in []float64) []float64 {
	x := clampTo(in, f.Domain)
	c0, c1 := f.C0, f.C1
	if len(c0) == 0 {
		c0 = []float64{0}
	}
	if len(c1) == 0 {
		c1 = []float64{1}
	}
	k := 0.0
	if len(x) > 0 {
		if k = math.Pow(x[0], f.N); math.IsNaN(k) || math.IsInf(k, 0) {
			k = 0
		}
	}
	out := make([]float64, min(len(c0), len(c1)))
	for i := range out {
		out[i] = c0[i] + k*(c1[i]-c0[i])
	}
	return clampTo(out, f.Range)
}

// Stitch puts functions of one input side by side (type 3).
type Stitch struct {
	Domain, Range, Bounds, Encode []float64
	Parts                         []Function
}

// Eval implements Function.
func (f *Stitch) Eval(in []float64) []float64 {
	x := clampTo(in, f.Domain)
	if len(x) == 0 || len(f.Parts) == 0 || len(f.Domain) < 2 {
		return nil
	}
	n := len(f.Parts)
	k := 0
	for k < len(f.Bounds) && k < n-1 && x[0] >= f.Bounds[k] {
		k++
	}
	lo, hi := f.Domain[0], f.Domain[1]
	if k > 0 {
		lo = f.Bounds[k-1]
	}
	if k < len(f.Bounds) {
		hi = f.Bounds[k]
	}
	e0, e1 := 0.0, 1.0
	if 2*k+1 < len(f.Encode) {
		e0, e1 = f.Encode[2*k], f.Encode[2*k+1]
	}
	return clampTo(f.Parts[k].Eval([]float64{lerp(x[0], lo, hi, e0, e1)}), f.Range)
}

// Sampled looks values up in a table and interpolates (type 0).
type Sampled struct {
	Domain, Range, Encode, Decode []float64
	Size                          []int
	Bits                          int
	Data                          []byte
}

// Eval implements Function.
func (f *Sampled) Eval(in []float64) []float64 {
	m, n := len(f.Size), len(f.Range)/2
	x := clampTo(in, f.Domain)
	if len(x) < m || m == 0 || m > 6 || n == 0 || f.Bits < 1 || f.Bits > 32 {
		return make([]float64, n)
	}
	low, frac := make([]int, m), make([]float64, m)
	for i := range m {
		e0, e1 := 0.0, float64(f.Size[i]-1)
		if 2*i+1 < len(f.Encode) {
			e0, e1 = f.Encode[2*i], f.Encode[2*i+1]
		}
		e := lerp(x[i], f.Domain[2*i], f.Domain[2*i+1], e0, e1)
		e = math.Max(0, math.Min(float64(f.Size[i]-1), e))
		low[i] = max(0, min(int(e), f.Size[i]-2))
		frac[i] = e - float64(low[i])
	}
	out := make([]float64, n)
	most := math.Pow(2, float64(f.Bits)) - 1
	for corner := range 1 << m {
		weight, at, step := 1.0, 0, 1
		for i := range m {
			p := low[i]
			if corner>>i&1 == 1 {
				weight *= frac[i]
				p = min(p+1, f.Size[i]-1)
			} else {
				weight *= 1 - frac[i]
			}
			at += p * step
			step *= f.Size[i]
		}
		if weight == 0 {
			continue
		}
		for j := range n {
			v := float64(bits(f.Data, (at*n+j)*f.Bits, f.Bits))
			d0, d1 := f.Range[2*j], f.Range[2*j+1]
			if 2*j+1 < len(f.Decode) {
				d0, d1 = f.Decode[2*j], f.Decode[2*j+1]
			}
			out[j] += weight * (d0 + v/most*(d1-d0))
		}
	}
	return clampTo(out, f.Range)
}

func bits(b []byte, at, n int) (v uint64) {
	for i := at; i < at+n; i++ {
		v <<= 1
		if i>>3 < len(b) && i >= 0 {
			v |= uint64(b[i>>3]>>(7-i&7)) & 1
		}
	}
	return v
}

// Join evaluates one function for each component.
type Join []Function

// Eval implements Function.
func (f Join) Eval(in []float64) []float64 {
	var out []float64
	for _, p := range f {
		v := 0.0
		if r := p.Eval(in); len(r) > 0 {
			v = r[0]
		}
		out = append(out, v)
	}
	return out
}

func lerp(x, a, b, c, d float64) float64 {
	if a == b {
		return c
	}
	return c + (x-a)*(d-c)/(b-a)
}

func clampTo(v, bounds []float64) []float64 {
	out := append([]float64(nil), v...)
	for i := range out {
		if math.IsNaN(out[i]) {
			out[i] = 0
		}
		if 2*i+1 < len(bounds) {
			out[i] = math.Max(bounds[2*i], math.Min(bounds[2*i+1], out[i]))
		}
	}
	return out
}

// Calculator is a PostScript calculator function (type 4): arithmetic, stack
// and conditional operators only.
type Calculator struct {
	Domain, Range []float64
	code          []any // float64, string or []any
}

// ParseCalculator reads the text of a type 4 function; ok is false for text
// that is none.
func ParseCalculator(text string, domain, rng []float64) (*Calculator, bool) {
	text = strings.NewReplacer("{", " { ", "}", " } ").Replace(text)
	words := strings.Fields(text)
	var read func(depth int) ([]any, bool)
	read = func(depth int) ([]any, bool) {
		var out []any
		for len(words) > 0 && depth < 32 {
			w := words[0]
			words = words[1:]
			switch {
			case w == "{":
				p, ok := read(depth + 1)
				if !ok {
					return nil, false
				}
				out = append(out, p)
			case w == "}":
				return out, true
			default:
				if v, err := strconv.ParseFloat(w, 64); err == nil {
					out = append(out, v)
				} else {
					out = append(out, w)
				}
			}
		}
		return nil, false
	}
	if len(words) == 0 || words[0] != "{" {
		return nil, false
	}
	words = words[1:]
	code, ok := read(0)
	return &Calculator{domain, rng, code}, ok
}

// Eval implements Function.
func (f *Calculator) Eval(in []float64) []float64 {
	st := clampTo(in, f.Domain)
	steps := 0
	var run func(code []any)
	run = func(code []any) {
		for i, c := range code {
			if steps++; steps > 20_000 || len(st) > 200 {
				return
			}
			switch v := c.(type) {
			case float64:
				st = append(st, v)
			case string:
				switch v {
				case "if", "ifelse":
					n := len(st)
					if n == 0 {
						return
					}
					yes := st[n-1] != 0
					st = st[:n-1]
					at := i - 1
					if v == "ifelse" {
						at = i - 2
						if !yes {
							at = i - 1
						}
					} else if !yes {
						continue
					}
					if at >= 0 {
						if p, ok := code[at].([]any); ok {
							run(p)
						}
					}
				default:
					st = calculate(st, v)
				}
			}
		}
	}
	run(f.code)
	n := len(f.Range) / 2
	if len(st) > n {
		st = st[len(st)-n:]
	}
	for len(st) < n {
		st = append(st, 0)
	}
	return clampTo(st, f.Range)
}

func truth(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// calculate applies one operator to the stack.
func calculate(st []float64, op string) []float64 {
	n := len(st)
	one := map[string]func(a float64) float64{
		"abs":      math.Abs,
		"neg":      func(a float64) float64 { return -a },
		"ceiling":  math.Ceil,
		"floor":    math.Floor,
		"round":    func(a float64) float64 { return math.Floor(a + 0.5) },
		"truncate": math.Trunc,
		"cvi":      math.Trunc,
		"cvr":      func(a float64) float64 { return a },
		"sqrt":     math.Sqrt,
		"ln":       math.Log,
		"log":      math.Log10,
		"sin":      func(a float64) float64 { return math.Sin(a * math.Pi / 180) },
		"cos":      func(a float64) float64 { return math.Cos(a * math.Pi / 180) },
		"not":      func(a float64) float64 { return truth(a == 0) },
	}
	if f, ok := one[op]; ok && n >= 1 {
		st[n-1] = f(st[n-1])
		return st
	}
	two := map[string]func(a, b float64) float64{
		"add":  func(a, b float64) float64 { return a + b },
		"sub":  func(a, b float64) float64 { return a - b },
		"mul":  func(a, b float64) float64 { return a * b },
		"div":  func(a, b float64) float64 { return a / b },
		"exp":  math.Pow,
		"idiv": func(a, b float64) float64 { return math.Trunc(a / b) },
		"mod":  math.Mod,
		"atan": func(a, b float64) float64 { return math.Mod(math.Atan2(a, b)*180/math.Pi+360, 360) },
		"eq":   func(a, b float64) float64 { return truth(a == b) },
		"ne":   func(a, b float64) float64 { return truth(a != b) },
		"gt":   func(a, b float64) float64 { return truth(a > b) },
		"ge":   func(a, b float64) float64 { return truth(a >= b) },
		"lt":   func(a, b float64) float64 { return truth(a < b) },
		"le":   func(a, b float64) float64 { return truth(a <= b) },
		"and":  func(a, b float64) float64 { return float64(int(a) & int(b)) },
		"or":   func(a, b float64) float64 { return float64(int(a) | int(b)) },
		"xor":  func(a, b float64) float64 { return float64(int(a) ^ int(b)) },
	}
	if f, ok := two[op]; ok && n >= 2 {
		st[n-2] = f(st[n-2], st[n-1])
		return st[:n-1]
	}
	switch {
	case op == "true":
		return append(st, 1)
	case op == "false":
		return append(st, 0)
	case op == "pop" && n >= 1:
		return st[:n-1]
	case op == "dup" && n >= 1:
		return append(st, st[n-1])
	case op == "exch" && n >= 2:
		st[n-1], st[n-2] = st[n-2], st[n-1]
	case op == "index" && n >= 1:
		if i := n - 2 - int(st[n-1]); i >= 0 && i < n {
			st[n-1] = st[i]
		}
	case op == "copy" && n >= 1:
		k := int(st[n-1])
		st = st[:n-1]
		if k >= 0 && k <= len(st) {
			st = append(st, st[len(st)-k:]...)
		}
	case op == "roll" && n >= 2:
		k, j := int(st[n-2]), int(st[n-1])
		st = st[:n-2]
		if k > 0 && k <= len(st) {
			part := st[len(st)-k:]
			old := append([]float64(nil), part...)
			for i := range part {
				part[((i+j)%k+k)%k] = old[i]
			}
		}
	}
	return st
}

// Cost returns about how many operations evaluating a function takes, at most a million.
func Cost(f Function) int {
	left := 1_000_000
	cost(f, &left)
	return 1_000_000 - left
}

func cost(f Function, left *int) {
	if *left--; *left <= 0 {
		*left = 0
		return
	}
	switch v := f.(type) {
	case Join:
		for _, p := range v {
			cost(p, left)
		}
	case *Stitch:
		for _, p := range v.Parts[:min(len(v.Parts), 1)] { // one of them is evaluated
			cost(p, left)
		}
	case *Sampled:
		*left = max(0, *left-(8<<min(len(v.Size), 10)))
	case *Calculator:
		*left = max(0, *left-min(20_000, 4*len(v.code)+64)-16*rolls(v.code))
	}
}

// rolls counts the operations that move many values, some hundred of them at the most.
func rolls(code []any) (n int) {
	for _, c := range code[:min(len(code), 20_000)] {
		switch v := c.(type) {
		case string:
			if v == "roll" || v == "copy" {
				n++
			}
		case []any:
			n += rolls(v)
		}
	}
	return n
}
