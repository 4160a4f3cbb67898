package recipe

import "slices"

// Recolored is a shape whose colour may have changed.
type Recolored struct {
	Was, Is string // #rrggbb; Was is "" for a shape that is new
	In      bool   // it takes part
}

// follow lets the parts go with their shapes when colours change. shapes lists
// every shape that there is afterwards, in the order of painting. It holds that
//
//  1. a shape that gets a colour which some other shape had before joins that
//     shape's part;
//  2. a part of which every shape that takes part got a new colour keeps its
//     id, name and measures;
//  3. otherwise a shape's new colour makes a part with the measures of the
//     part that the shape comes from.
func (p *Parts) follow(shapes []Recolored) {
	before := map[string]bool{}
	var olds []string
	for _, s := range shapes {
		if s.Was != "" && !before[s.Was] {
			before[s.Was] = true
			olds = append(olds, s.Was)
		}
	}
	for _, was := range olds {
		var fresh []string // colours that shapes of was got and nobody had
		stays, waits := false, false
		for _, s := range shapes {
			switch {
			case s.Was != was:
			case s.Is == was:
				stays, waits = stays || s.In, waits || !s.In
			case !before[s.Is] && !p.takes(s.Is) && !slices.Contains(fresh, s.Is):
				fresh = append(fresh, s.Is)
			}
		}
		if len(fresh) == 0 {
			continue
		}
		from := p.Taking(was)
		if !stays {
			if q, err := p.enter(from.ID); err == nil {
				q.Takes.Colors[slices.Index(q.Takes.Colors, was)] = fresh[0]
				fresh = fresh[1:]
				if waits {
					fresh = append(fresh, was)
				}
			}
		}
		for _, c := range fresh {
			p.split(from, c)
		}
	}
}

// split makes a part for a colour with the measures of another part; where
// those are the default ones, a part that is not touched yet will do.
func (p *Parts) split(from Part, color string) {
	if from.How == nil && !from.Out {
		return
	}
	part := Part{ID: p.freeID(), Takes: Rule{Colors: []string{color}}, Out: from.Out}
	if from.How != nil {
		own := from.How.clone()
		part.How = &own
	}
	p.List = append(p.List, part)
}

func (p *Parts) takes(color string) bool {
	return slices.ContainsFunc(p.List, func(q Part) bool { return slices.Contains(q.Takes.Colors, color) })
}
