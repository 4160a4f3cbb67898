package write

import "io"

// sticky remembers the first error of a writer, for encoders that do not ask.
type sticky struct {
	w   io.Writer
	err error
}

func (s *sticky) Write(b []byte) (int, error) {
	if s.err != nil {
		return 0, s.err
	}
	n, err := s.w.Write(b)
	s.err = err
	return n, err
}
