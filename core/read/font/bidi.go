package font

import "golang.org/x/text/unicode/bidi"

// Levels returns the embedding levels of characters, even ones from left to right and odd ones
// from right to left, by the implicit rules of the Unicode Bidirectional Algorithm (UAX 9: W1
// to W7, N1, N2, I1, I2) within one paragraph. force gives characters a class of their own, as
// overrides do; it may be nil.
func Levels(text []rune, rightToLeft bool, force func(i int) (bidi.Class, bool)) []int {
	base, outer := 0, bidi.L
	if rightToLeft {
		base, outer = 1, bidi.R
	}
	class := make([]bidi.Class, len(text))
	for i, c := range text {
		p, _ := bidi.LookupRune(c)
		class[i] = p.Class()
		if force != nil {
			if k, ok := force(i); ok {
				class[i] = k
			}
		}
	}
	weak(class, outer)
	neutral(class, outer)
	levels := make([]int, len(text))
	for i, k := range class {
		levels[i] = base
		switch {
		case k == bidi.R && base == 0, k == bidi.L && base == 1:
			levels[i]++
		case (k == bidi.AN || k == bidi.EN) && base == 0:
			levels[i] += 2
		case k == bidi.AN || k == bidi.EN:
			levels[i]++
		}
	}
	return levels
}

// weak resolves marks, numbers and what stands in them (W1 to W7).
func weak(class []bidi.Class, outer bidi.Class) {
	last, strong := outer, outer // the class before, and the last strong one
	for i, k := range class {
		if k == bidi.NSM {
			k = last
		}
		if k == bidi.EN && strong == bidi.AL {
			k = bidi.AN
		}
		switch k {
		case bidi.L, bidi.R, bidi.AL:
			strong = k
		}
		class[i], last = k, k
	}
	at := func(i int) bidi.Class {
		if i < 0 || i >= len(class) {
			return bidi.ON
		}
		return class[i]
	}
	for i, k := range class {
		between := at(i-1) == at(i+1)
		switch {
		case k == bidi.AL:
			class[i] = bidi.R
		case k == bidi.ES && between && at(i+1) == bidi.EN:
			class[i] = bidi.EN
		case k == bidi.CS && between && (at(i+1) == bidi.EN || at(i+1) == bidi.AN):
			class[i] = at(i + 1)
		}
	}
	strong = outer
	for i := 0; i < len(class); i++ {
		if class[i] == bidi.ET {
			end := i
			for end < len(class) && class[end] == bidi.ET {
				end++
			}
			to := bidi.ON
			if at(i-1) == bidi.EN || at(end) == bidi.EN {
				to = bidi.EN
			}
			for ; i < end; i++ {
				class[i] = to
			}
			i--
			continue
		}
		if class[i] == bidi.ES || class[i] == bidi.CS {
			class[i] = bidi.ON
		}
	}
	for i, k := range class {
		switch {
		case k == bidi.L || k == bidi.R:
			strong = k
		case k == bidi.EN && strong == bidi.L:
			class[i] = bidi.L
		}
	}
}

// neutral gives what has no direction that of its neighbours, where both agree, or else that of
// the paragraph (N1, N2).
func neutral(class []bidi.Class, outer bidi.Class) {
	side := func(k bidi.Class) bidi.Class {
		if k == bidi.EN || k == bidi.AN {
			return bidi.R
		}
		return k
	}
	directed := func(k bidi.Class) bool { return k == bidi.L || k == bidi.R || k == bidi.EN || k == bidi.AN }
	for i := 0; i < len(class); i++ {
		if directed(class[i]) {
			continue
		}
		end := i
		for end < len(class) && !directed(class[end]) {
			end++
		}
		before, after := outer, outer
		if i > 0 {
			before = side(class[i-1])
		}
		if end < len(class) {
			after = side(class[end])
		}
		to := outer
		if before == after {
			to = before
		}
		for ; i < end; i++ {
			class[i] = to
		}
		i--
	}
}

// Visual returns the order in which runs of the given levels stand from left to right (L2).
func Visual(levels []int) []int {
	order := make([]int, len(levels))
	top := 0
	for i := range order {
		order[i] = i
		top = max(top, levels[i])
	}
	for ; top > 0; top-- {
		for i := 0; i < len(order); i++ {
			end := i
			for end < len(order) && levels[order[end]] >= top {
				end++
			}
			for a, b := i, end-1; a < b; a, b = a+1, b-1 {
				order[a], order[b] = order[b], order[a]
			}
			i = max(i, end-1)
		}
	}
	return order
}
