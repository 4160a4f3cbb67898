package recipe

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"bildhauer/core/terms"
)

// Relief is how parts step up as they lie on each other: which level each has is worked
// out from what lies on what (stages.Levels), or said by hand (Part.Level). Levels count
// from 1. It has a total height or a step, not both; with neither there is no relief.
type Relief struct {
	Total float64 `json:"total,omitempty" figure:"relief,zero"` // height of the highest level, mm; the others are spaced evenly
	Step  float64 `json:"step,omitempty" figure:"reliefStep"`   // by how much each level is higher than the one below, mm
	Lines string  `json:"lines,omitempty" choice:"outlines"`    // where dark outlines stand: "" like all others, LinesHighest or LinesLowest
}

// Where outlines may stand.
const (
	LinesHighest = "highest" // above all others
	LinesLowest  = "groove"  // below all others, so that they are grooves between these
)

// On reports whether there is a relief.
func (r Relief) On() bool { return r.Total != 0 || r.Step != 0 }

// Adds returns by how much a part of a level, of so many, is deeper than its own measures
// say; depth is that of parts without measures of their own.
func (r Relief) Adds(level, levels int, depth float64) float64 {
	if level < 1 || levels < 1 {
		return 0
	}
	if r.Total != 0 {
		return r.Total*float64(level)/float64(levels) - depth
	}
	return r.Step * float64(level-1)
}

// MostLevels bounds the levels of a relief.
var MostLevels = int(terms.Of("level").Max)

// most returns by how much parts up to a level may become deeper.
func (r Relief) most(level int) float64 { return math.Abs(r.Total) + float64(level)*math.Abs(r.Step) }

func (r Relief) check() error {
	if r.Total != 0 && r.Step != 0 {
		return fmt.Errorf("a relief has a height or a step, not both")
	}
	return terms.CheckTags(&r)
}

// A part that takes colours may have shapes on several levels. Then it is divided: what
// lies lowest keeps its id, the others have ids of their own, made of that one.

// levelMark stands between the id of a part and the number of what was divided from it.
const levelMark = "~"

// linesMark stands in place of that number for the outlines of a part.
const linesMark = "lines"

// DividedID returns the id of what was divided from a part: number n, from 2; or its outlines.
func DividedID(base string, n int, lines bool) string {
	if lines {
		return base + levelMark + linesMark
	}
	return base + levelMark + strconv.Itoa(n)
}

// BaseOf returns the id of the part that one was divided from, or its own.
func BaseOf(id string) string {
	if base, _, ok := cutMark(id); ok {
		return base
	}
	return id
}

// Divided reports whether an id is that of what a relief divided from a part.
func Divided(id string) bool { return BaseOf(id) != id }

func cutMark(id string) (base, rest string, ok bool) {
	i := strings.LastIndex(id, levelMark)
	if i <= 0 {
		return "", "", false
	}
	base, rest = id[:i], id[i+len(levelMark):]
	n, err := strconv.Atoi(rest)
	return base, rest, rest == linesMark || err == nil && n >= 2 && strconv.Itoa(n) == rest
}

// Splits reports whether a relief may divide a part: it takes colours and nothing else.
func (p *Parts) Splits(id string) bool {
	q, ok := p.Part(id)
	return ok && len(q.Takes.Colors) > 0 && len(q.Takes.Groups)+len(q.Takes.Shapes)+len(q.Takes.Outlines) == 0
}

// Apart returns how far apart its levels are, of so many, mm.
func (r Relief) Apart(levels int) float64 {
	if r.Total != 0 && levels > 0 {
		return r.Total / float64(levels)
	}
	return r.Step
}
