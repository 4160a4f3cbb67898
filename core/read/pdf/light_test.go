package pdf

import "testing"

// TestBlendAndSoftMask reads how shapes mix with what lies below.
func TestBlendAndSoftMask(t *testing.T) {
	const states = "/ExtGState << /M << /BM /Multiply >> /N << /BM /Normal >> /S << /SMask << /Type /Mask /S /Luminosity /G 9 0 R >> >> " +
		"/O << /SMask /None >> >>"
	for content, want := range map[string]struct {
		blend string
		soft  bool
	}{
		"0 0 9 9 re f":                      {"", false},
		"/M gs 0 0 9 9 re f":                {"multiply", false},
		"/M gs /N gs 0 0 9 9 re f":          {"", false},
		"/S gs 0 0 9 9 re f":                {"", true},
		"/S gs /O gs 0 0 9 9 re f":          {"", false},
		"q /S gs /M gs Q 0 0 9 9 re f":      {"", false},
		"/M gs /S gs 0 0 9 9 re S":          {"multiply", true},
		"/M gs q /N gs Q 0 0 9 9 re f":      {"multiply", false},
		"/S gs 0 0 m 9 0 l 9 9 l h B":       {"", true},
		"/N gs 0.5 g 0 0 9 9 re f":          {"", false},
		"/M gs /O gs 1 0 0 rg 0 0 5 5 re f": {"multiply", false},
	} {
		s, err := try("a.pdf", file(content, states), 0)
		if err != nil {
			t.Errorf("%s: %v", content, err)
			continue
		}
		for i := range s.Shapes {
			if sh := &s.Shapes[i]; sh.Blend != want.blend || sh.Soft != want.soft {
				t.Errorf("%s: blend %q, soft %v", content, sh.Blend, sh.Soft)
			}
		}
	}
}
