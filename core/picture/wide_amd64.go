package picture

// descend is descendPlain with four boxes looked at by each instruction (SSE, which every amd64 has); wide_amd64.s.
func descend(nodes []four, w *walker, open *ways, top int, at int32) (leaf int32, left int) {
	return descendFour(&nodes[0], w, open, top, at)
}

//go:noescape
func descendFour(nodes *four, w *walker, open *ways, top int, at int32) (leaf int32, left int)
