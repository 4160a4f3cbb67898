package main

import (
	"os"
	"path/filepath"
	"testing"
)

// TestDocumentsAreCurrent compares what is in the repository with what would be written anew.
func TestDocumentsAreCurrent(t *testing.T) {
	const root = "../.."
	for path, write := range documents {
		want, err := write(root)
		if err != nil {
			t.Errorf("%s: %v", path, err)
			continue
		}
		if have, err := os.ReadFile(filepath.Join(root, path)); err != nil || string(have) != string(want) {
			t.Errorf("%s is not what the program says (%v); run go generate ./core/terms", path, err)
		}
	}
}
