package acts

import (
	"strings"
	"testing"
)

// steps lists the scopes that are there at once beside the frame.
var together = [][]string{
	{"home"}, {"frame", "intake"}, {"frame", "mend"}, {"frame", "size"}, {"frame", "stand", "raise"}, {"frame", "show"}, {"frame", "release"},
}

// TestActsAreToldApart holds that names are their own, and that no key means two things at one place: those of gestures
// belong to single elements.
func TestActsAreToldApart(t *testing.T) {
	names, scopes := map[string]bool{}, map[string]Scope{}
	for _, s := range Scopes {
		scopes[s.Name] = s
		for _, a := range s.Acts {
			if names[a.Name] || !strings.HasPrefix(a.Name, s.Name+".") || a.Label == "" || len(a.Keys) == 0 {
				t.Errorf("the act %+v", a)
			}
			names[a.Name] = true
		}
	}
	for _, list := range together {
		taken := map[string]string{}
		for _, name := range list {
			for _, a := range scopes[name].Acts {
				for _, k := range a.Keys {
					if a.Gesture {
						continue
					}
					if taken[k] != "" {
						t.Errorf("%s does %s and %s", k, taken[k], a.Name)
					}
					taken[k] = a.Name
				}
			}
		}
	}
}
