package geom

// Sets are disjoint sets of the numbers from 0, by union and find with the paths
// halved (Tarjan and van Leeuwen 1984). Of each set the lowest number stands for it.
type Sets []int32

// NewSets returns n sets of one number each.
func NewSets(n int) Sets {
	s := make(Sets, n)
	for i := range s {
		s[i] = int32(i)
	}
	return s
}

// Find returns the number that stands for the set of i.
func (s Sets) Find(i int32) int32 {
	for s[i] != i {
		s[i] = s[s[i]]
		i = s[i]
	}
	return i
}

// Join makes one set of those of i and j.
func (s Sets) Join(i, j int32) {
	i, j = s.Find(i), s.Find(j)
	s[max(i, j)] = min(i, j)
}
