package main

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"bildhauer/core/terms"
)

// told is what pages may not say by themselves: units, limits of names, curves of easings.
var told = map[string]*regexp.Regexp{
	"a unit":            regexp.MustCompile(`\b25\.4\b|\bunit: "(mm|px|°|%|s|K)`),
	"a limit":           regexp.MustCompile(`\bmaxlength: \d|= [\d_.]+; // core/|path\.points\.length [<>=]+ \d`),
	"an easing":         regexp.MustCompile(`cubic-bezier|\bs \* s \* \(3 - 2 \* s\)`),
	"a profile":         regexp.MustCompile(`Math\.(cos|sin)\(.*segments`),
	"a colour's warmth": regexp.MustCompile(`(?i)\bkelvin\b.*Math\.`),
	"how a lamp stands": regexp.MustCompile(`new Vector3\(0, 1, 0\)\.cross`),
}

// elsewhere are words of choices that say something else in other places: the row of all parts, the title of the
// plan, and the colour of what is shown.
var elsewhere = map[string]bool{"All parts": true, "From above": true, "as drawn": true}

// TestPagesTellNothingTwice reads the pages' modules, but for those that are made: what the tables say is not said
// there again, and neither is a word of a choice that has more than one.
func TestPagesTellNothingTwice(t *testing.T) {
	words := map[string]string{}
	for _, c := range terms.Choices() {
		for _, o := range c.Options {
			if strings.Contains(o.Label, " ") && o.Label != o.Name && !elsewhere[o.Label] {
				words[`"`+o.Label+`"`] = c.Name
			}
		}
	}
	err := filepath.WalkDir("../../web/static/js", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() && d.Name() == "made" {
			return filepath.SkipDir
		}
		if d.IsDir() || !strings.HasSuffix(path, ".js") {
			return nil
		}
		code, err := os.ReadFile(path)
		for n, line := range strings.Split(string(code), "\n") {
			for what, pattern := range told {
				if pattern.MatchString(line) {
					t.Errorf("%s:%d tells %s: %s", path, n+1, what, line)
				}
			}
			for word, choice := range words {
				if strings.Contains(line, word) {
					t.Errorf("%s:%d tells %s, which the choice %s does", path, n+1, word, choice)
				}
			}
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	if len(words) < 20 {
		t.Errorf("only %d words are looked for", len(words))
	}
}
