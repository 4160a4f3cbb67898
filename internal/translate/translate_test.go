package translate

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// translated translates a source and returns the module, or why there is none.
func translated(t *testing.T, source string) (string, error) {
	t.Helper()
	dir := t.TempDir()
	if err := os.WriteFile(filepath.Join(dir, "p.go"), []byte("package p\n\n"+source), 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := Module(dir)
	return string(out), err
}

// TestTheSameComesOut runs what was translated where there is a Node to run it: each function returns what it does in
// Go, whole numbers among them, lists that are made longer, structs, loops and choices.
func TestTheSameComesOut(t *testing.T) {
	for _, c := range []struct{ source, call, want string }{
		{"func Half(n int) int { return n / 2 }", "half(-7)", "-3"},
		{"func Part(x float64) float64 { return x / 2 }", "part(-7)", "-3.5"},
		{"func Rest(n int) int { return (n + 1) % 4 * 2 }", "rest(6)", "6"},
		{"func Cut(x float64) int { return int(x) }", "cut(-2.9)", "-2"},
		{"const Two = 2.0\n\nfunc Twice(x float64) float64 { return Two * -x }", "twice(3)", "-6"},
		{"func Sum(v []float64) float64 {\n\ts := 0.0\n\tfor _, x := range v {\n\t\ts += x\n\t}\n\treturn s\n}", "sum([1, 2, 4])", "7"},
		{"func Count(n int) []float64 {\n\tvar out []float64\n\tfor i := range n {\n\t\tout = append(out, float64(i)*10)\n\t}\n\treturn out\n}", "count(3)", "[0,10,20]"},
		{"func Down(n int) int {\n\tk := 0\n\tfor n > 0 {\n\t\tn--\n\t\tif n == 3 {\n\t\t\tcontinue\n\t\t}\n\t\tk++\n\t}\n\treturn k\n}", "down(5)", "4"},
		{"type P struct{ X, Y float64 }\n\nfunc Swap(p P) P { return P{X: p.Y, Y: p.X} }", "swap({ x: 1, y: 2 })", `{"x":2,"y":1}`},
		{"func Way(s string) float64 {\n\tswitch s {\n\tcase \"in\", \"out\":\n\t\treturn 1\n\tcase \"both\":\n\t\treturn 2\n\t}\n\treturn 0\n}", `[way("out"), way("both"), way("x")]`, "[1,2,0]"},
	} {
		out, err := translated(t, c.source)
		if err != nil {
			t.Errorf("%s: %v", c.source, err)
			continue
		}
		node, err := exec.LookPath("node")
		if err != nil {
			continue
		}
		run := exec.Command(node, "--input-type=module", "-e", out+"\nconsole.log(JSON.stringify("+c.call+"))")
		if got, err := run.CombinedOutput(); err != nil || strings.TrimSpace(string(got)) != c.want {
			t.Errorf("%s is %s, not %s\n%s", c.call, got, c.want, out)
		}
	}
}

// TestWhatHasNoTranslation asks for what the part of Go does not have: an error says so, and nothing comes out.
func TestWhatHasNoTranslation(t *testing.T) {
	for _, source := range []string{
		"type P struct{ X float64 }\n\nfunc (p P) Get() float64 { return p.X }",
		"func Bits(n int) int { return n&3 + 1 }",
		"func Later(c chan int) int { return <-c }",
		"func Names(m map[string]int) int { return m[\"a\"] }\n\nfunc All() { go Names(nil) }",
		"type P struct{ X, Y float64 }\n\nfunc At() P { return P{1, 2} }",
		"func Pick(n int) int {\n\tswitch {\n\tcase n > 1:\n\t\treturn 1\n\t}\n\treturn 0\n}",
		"func Address() *int {\n\tn := 1\n\treturn &n\n}",
	} {
		out, err := translated(t, source)
		if err == nil || out != "" || !strings.Contains(err.Error(), "has no translation") {
			t.Errorf("%s\nbecomes %q, %v", source, out, err)
		}
	}
}
