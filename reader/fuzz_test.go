package reader_test

import (
	"flag"
	"os"
	"path/filepath"
	"runtime/debug"
	"testing"
	"time"

	"bildhauer/core/read"
	"bildhauer/reader"
)

// The fuzz targets read files as a reader does. While they are fuzzed, the fuzzing process keeps to
// the limits of a reader: more memory, more work, a stack too deep or a panic end it, and each of
// them is a finding. What was found is a file in testdata/fuzz, which the usual tests hand to a real
// reader.
func FuzzSVG(f *testing.F)    { fuzz(f, "svg", "*.svg") }
func FuzzEPS(f *testing.F)    { fuzz(f, "eps", "*.eps", "rope-mark.ai") }
func FuzzPDF(f *testing.F)    { fuzz(f, "pdf", "*.pdf", "pier-key-tag.ai") }
func FuzzBitmap(f *testing.F) { fuzz(f, "bitmap", "*.png") }

// smallSeed is how large a seed may be: small ones are changed more often in the same time.
const smallSeed = 6 << 10

// quickSeed is how long one may take: those that reach a limit already would be found again and
// again, and code that is watched for fuzzing is several times slower.
const quickSeed = 300 * time.Millisecond

func flagged(name string) bool {
	v := flag.Lookup(name)
	return v != nil && v.Value.String() != "" && v.Value.String() != "false"
}

func fuzz(f *testing.F, kind string, patterns ...string) {
	if flagged("test.fuzz") && !flagged("test.fuzzworker") {
		seeds(f, kind, patterns)
	}
	if !flagged("test.fuzzworker") {
		p := reader.New()
		f.Cleanup(p.Close)
		f.Fuzz(func(t *testing.T, data []byte) {
			if read.Detect(data) == kind {
				answered(t, p, hostile{t.Name(), data})
			}
		})
		return
	}
	reader.Confine()
	debug.SetMemoryLimit(reader.Memory * 6 / 10)
	debug.SetMaxStack(reader.Stack)
	f.Fuzz(func(t *testing.T, data []byte) {
		if read.Detect(data) != kind {
			return
		}
		end := reader.Overtime(reader.Hard)
		defer end()
		if bug := reader.Answer("gift", data); bug != "" {
			t.Fatal(bug)
		}
	})
}

// seeds adds our own drawings, the readers' feature files and what of the battery is small.
func seeds(f *testing.F, kind string, patterns []string) {
	for _, dir := range []string{"../demo", "../core/read/testdata/features", "../core/read/*/testdata"} {
		for _, pattern := range patterns {
			list, _ := filepath.Glob(filepath.Join(dir, pattern))
			for _, path := range list {
				if data, err := os.ReadFile(path); err == nil && read.Detect(data) == kind {
					f.Add(data)
				}
			}
		}
	}
	p := reader.New()
	defer p.Close()
	for _, h := range battery() {
		if len(h.Data) > smallSeed || read.Detect(h.Data) != kind {
			continue
		}
		begun := time.Now()
		p.Sheet(f.Context(), h.Name, h.Data, read.Options{})
		if time.Since(begun) < quickSeed {
			f.Add(h.Data)
		}
	}
}
