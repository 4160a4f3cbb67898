package stages

import "fmt"

// Kind says what about the artwork or its measures its owner must put right.
type Kind uint8

// The kinds of problem.
const (
	AllLeftOut Kind = iota
	NoSide
	TooManyPoints
	NoArea
	TooLong
	Tangled
	NoSuchPart
	AllPartsOut
	TooMuchMemory
	Touches
)

// sentences word the kinds.
var sentences = [...]string{
	AllLeftOut:    "Every shape is excluded. Include at least one.",
	NoSide:        "The artwork has no %s to scale by. Include a shape that has one, or size it another way.",
	TooManyPoints: "At a tolerance of %s the outlines would have more than %s points. Raise the tolerance, or make the piece smaller.",
	NoArea:        "The artwork encloses no area.",
	TooLong:       "At this %s the other side would be %.0f m long.",
	Tangled:       "%s: %v. Raise the tolerance in Size, or narrow the bevel.",
	NoSuchPart:    "This part is not in the artwork any more.",
	TooMuchMemory: "This would need some %.1f GB of memory, and %.1f GB is what it may take here. Raise the tolerance in " +
		"Size, take fewer segments for the bevels, or leave parts out.",
	Touches: "At %s right and %s up from the middle the solid touches itself where it can't be parted. Change a depth, " +
		"a bevel or the size a little, or leave one of the parts there out.",
	AllPartsOut: "Every part is excluded. Include at least one.",
}

// Problem is an error that the owner of the artwork can solve.
type Problem struct {
	Kind Kind
	args []any
}

// Error returns a sentence.
func (p *Problem) Error() string { return fmt.Sprintf(sentences[p.Kind], p.args...) }

func problem(k Kind, args ...any) error { return &Problem{k, args} }
