//go:build !amd64

package picture

// descend is descendPlain.
func descend(nodes []four, w *walker, open *ways, top int, at int32) (leaf int32, left int) {
	return descendPlain(nodes, w, open, top, at)
}
