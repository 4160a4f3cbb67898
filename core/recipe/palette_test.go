package recipe

import (
	"strings"
	"testing"
)

// TestPalettes holds what a palette may say, and how files of one are read.
func TestPalettes(t *testing.T) {
	for doc, want := range map[string]string{
		`{"count":6}`:    "",
		`{"distance":4}`: "",
		`{"given":["#ff0000","#00ff00"],"name":"Quay"}`: "",
		`{"count":6,"moved":{"#ff0000":"#00ff00"}}`:     "",
		`{"count":1}`:                         "The number of colours must be between 2 and 64",
		`{"count":3,"distance":4}`:            "not both",
		`{"distance":-1}`:                     "The distance between colours must be between",
		`{"given":["#ff0000"]}`:               "Give two colours at least",
		`{"given":["#ff0000","#ff0000"]}`:     "Give two colours at least",
		`{"given":["#ff0000","red"]}`:         "is not a colour",
		`{"count":3,"moved":{"#ff0000":"x"}}`: "is not a colour",
	} {
		_, err := Open([]byte(`{"version":5,"parts":{"palette":` + doc + `}}`))
		if (err == nil) != (want == "") || err != nil && !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v, want %q", doc, err, want)
		}
	}
	for file, want := range map[string]string{
		"#FF0000 Signal red\n\n  #00ff00\n#0000ff":     "#ff0000 #00ff00 #0000ff",
		`{"name":"x","colours":["#ff0000","#00ff00"]}`: "#ff0000 #00ff00",
		"#ff0000\ngreen\n":                             "line 2 is no colour",
		"#ff0000\n":                                    "Give two colours at least",
		"":                                             "Give two colours at least",
		`{"colours":"red"}`:                            "it is no palette",
	} {
		list, err := ReadColours([]byte(file))
		if got := strings.Join(list, " "); err == nil && got != want || err != nil && !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %s, %v, want %q", file, got, err, want)
		}
	}
}
