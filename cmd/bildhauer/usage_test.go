package main

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/spf13/pflag"

	"bildhauer/core/terms"
)

// TestCommandsAreWritten compares docs/commands.md with what the commands say; BILDHAUER_WRITE=1 writes it anew.
func TestCommandsAreWritten(t *testing.T) {
	var b strings.Builder
	b.WriteString("# Commands\n\nWritten from the program. Man pages: `bildhauer man DIR`; completion for shells: `bildhauer completion --help`.\n")
	root := commandLine(&b, &b)
	fmt.Fprintf(&b, "\n```\n%s\n```\n", root.Long)
	for _, c := range root.Commands() {
		if c.Hidden || c.Name() == "help" || c.Name() == "completion" {
			continue
		}
		fmt.Fprintf(&b, "\n## bildhauer %s\n\n```\n%s\n\n%s```\n", c.Name(), strings.TrimSpace(c.Long), c.UsageString())
	}
	const path = "../../docs/commands.md"
	if os.Getenv("BILDHAUER_WRITE") != "" {
		if err := os.WriteFile(path, []byte(b.String()), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	if have, err := os.ReadFile(path); err != nil || string(have) != b.String() {
		t.Errorf("docs/commands.md is not what the program says (%v)", err)
	}
}

// TestEveryFlagIsExplained looks at all flags of all commands: each has a help of its own, and those of figures and
// choices are where the table says.
func TestEveryFlagIsExplained(t *testing.T) {
	root := commandLine(os.Stdout, os.Stderr)
	have := map[string]bool{}
	for _, c := range root.Commands() {
		if c.Name() == "completion" || c.Name() == "help" {
			continue
		}
		c.Flags().VisitAll(func(f *pflag.Flag) {
			have[f.Name] = true
			if f.Usage == "" || !strings.HasSuffix(f.Usage, ".") && !strings.HasSuffix(f.Usage, "`") {
				t.Errorf("%s --%s: %q", c.Name(), f.Name, f.Usage)
			}
		})
		if code, out, errs := call(t, c.Name(), "--help"); code != 0 || errs != "" || !strings.Contains(out, c.Short) {
			t.Errorf("%s --help: %d %q", c.Name(), code, errs)
		}
		if code, out, _ := call(t, c.Name(), "-h"); code != 0 || out == "" {
			t.Errorf("%s -h: %d", c.Name(), code)
		}
	}
	for _, f := range terms.Figures() {
		if f.Flag != "" && !have[f.Flag] {
			t.Errorf("no command has --%s", f.Flag)
		}
	}
	for _, c := range terms.Choices() {
		if c.Flag != "" && !have[c.Flag] {
			t.Errorf("no command has --%s", c.Flag)
		}
	}
	if code, out, _ := call(t, "version"); code != 0 || !strings.HasPrefix(out, "bildhauer ") {
		t.Errorf("version: %d %s", code, out)
	}
	dir := filepath.Join(t.TempDir(), "manual")
	if code, _, errs := call(t, "man", dir); code != 0 {
		t.Errorf("man: %s", errs)
	}
	if page, err := os.ReadFile(filepath.Join(dir, "bildhauer-make.1")); err != nil || !strings.Contains(string(page), "bevel") {
		t.Errorf("the man page of make: %v", err)
	}
}

// TestShellsComplete asks as a shell does.
func TestShellsComplete(t *testing.T) {
	for want, args := range map[string][]string{
		"picture":  {"__complete", "pi"},
		"ogee":     {"__complete", "make", "a.svg", "--profile", "o"},
		"--relief": {"__complete", "make", "a.svg", "--rel"},
	} {
		if code, out, _ := call(t, args...); code != 0 || !slices.ContainsFunc(strings.Split(out, "\n"), func(l string) bool { return strings.HasPrefix(l, want) }) {
			t.Errorf("%v: %d %q", args, code, out)
		}
	}
	if code, out, _ := call(t, "completion", "bash"); code != 0 || !strings.Contains(out, "bildhauer") {
		t.Errorf("completion: %d", code)
	}
}

// TestWrongUsageIsRefused gives flags that contradict each other, that belong to other commands or say less than it
// seems: each is refused with a sentence, before anything is read.
func TestWrongUsageIsRefused(t *testing.T) {
	for line, want := range map[string]string{
		"make a.svg -o x.stl --width 10cm --height 2in":       "--width and --height contradict",
		"make a.svg -o x.stl --height 2in --width 10cm":       "--width and --height contradict",
		"make a.svg -o x.stl --fuse --apart":                  "--fuse and --apart contradict",
		"make a.svg -o x.stl --pillow 2mm --dome 3mm":         "--pillow and --dome contradict",
		"make a.svg -o x.stl --pillow 2mm --profile ogee":     "contradict",
		"make a.svg -o x.stl --relief 2mm --relief-step 1mm":  "--relief and --relief-step contradict",
		"make a.svg -o x.stl --colours 4 --colours-apart 3":   "--colours and --colours-apart contradict",
		"make a.svg -o x.stl --fineness fine --tolerance 1mm": "--fineness and --tolerance contradict",
		"make a.svg -o x.stl --format glb":                    "is to be stl by its ending, and glb by --format",
		"make a.svg -o x.stl --list":                          "unknown flag: --list",
		"make a.svg -o x.stl --frames 3":                      "unknown flag: --frames",
		"make a.svg -o x.stl --segments 2.5":                  "whole number",
		"make a.svg -o x.stl --segments 99":                   "must be between 1 and 32",
		"make a.svg -o x.stl -d there":                        "either -o OUT or -d DIR",
		"mend a.svg -o x.svg --depth 3mm":                     "unknown flag: --depth",
		"mend a.svg --list --fix tidy":                        "--list and --fix contradict",
		"mend a.svg --list -o x.svg":                          "--list and --out contradict",
		"clean a.svg -o x.svg --width 3":                      "unknown flag: --width",
		"clean a.svg -o x.svg --tolerance 3 ells":             "ells",
		"picture a.svg -o x.png --size 16x16abc":              "width by height in pixels",
		"picture a.svg -o x.png --size 16":                    "width by height in pixels",
		"picture a.svg -o x.exr --format png":                 "is to be exr by its ending, and png by --format",
		"picture a.svg -o x.png --samples 3 --seconds 2":      "--seconds and --samples contradict",
		"picture a.svg -o x.png --quality good --samples 3":   "--quality and --samples contradict",
		"picture a.svg -o x.png --from 3":                     "unknown flag: --from",
		"picture a.svg -o x.png --data there":                 "--data goes with --piece",
		"picture a.svg -o x.png --shutter 1.5":                "The shutter must be between 0 and 1",
		"inspect a.svg --stats":                               "unknown flag: --stats",
		"demo --passphrase-file x":                            "unknown flag",
		"notices more":                                        "notices takes no file",
		"carve a.svg":                                         `there is no command "carve"`,
	} {
		args := strings.Fields(line)
		if i := slices.Index(args, "ells"); i > 0 {
			args = append(args[:i-1], "3 ells")
		}
		if code, _, errs := call(t, args...); code != 2 || !strings.Contains(errs, want) || !strings.Contains(errs, "--help tells more") {
			t.Errorf("%s: %d %q, want %q", line, code, errs, want)
		}
	}
}
