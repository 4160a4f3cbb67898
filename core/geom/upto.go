package geom

// Upto returns the beginning of a polyline, as long as a share of it, from 0 to 1; a closed one goes back to its
// start. Of a share of 0 nothing is left.
func Upto(line []Vec, closed bool, share float64) []Vec {
	if share <= 0 || len(line) == 0 {
		return nil
	}
	if closed {
		line = append(append([]Vec{}, line...), line[0])
	}
	if share >= 1 {
		return append([]Vec{}, line...)
	}
	left := 0.0
	for i := range line[1:] {
		left += line[i+1].Sub(line[i]).Len()
	}
	left *= share
	out := []Vec{line[0]}
	for i := range line[1:] {
		d := line[i+1].Sub(line[i]).Len()
		if d >= left {
			if d > 0 {
				out = append(out, line[i].Lerp(line[i+1], left/d))
			}
			break
		}
		left -= d
		out = append(out, line[i+1])
	}
	return out
}
