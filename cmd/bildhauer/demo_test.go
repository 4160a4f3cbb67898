package main

import (
	"bufio"
	"bytes"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"bildhauer/studio"
)

// demoUntilReady starts the demo, reads what it says until it listens, and ends it as Ctrl+C does.
func demoUntilReady(t *testing.T, args ...string) string {
	t.Helper()
	self, err := os.Executable()
	if err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(self, append([]string{"demo", "--listen", "127.0.0.1:0"}, args...)...)
	cmd.Env = append(os.Environ(), "BILDHAUER_AS_PROGRAM=1", "TMPDIR="+t.TempDir())
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	said := ""
	for lines := bufio.NewScanner(out); lines.Scan(); {
		said += lines.Text() + "\n"
		if strings.HasPrefix(lines.Text(), "Bildhauer is at") {
			break
		}
	}
	cmd.Process.Signal(syscall.SIGINT)
	if err := cmd.Wait(); err != nil {
		t.Errorf("it ended with %v", err)
	}
	return said
}

// TestDemoKeepsWhatItIsAskedTo says at once whether the folder is kept, keeps it where one was named,
// and does not fill it twice.
func TestDemoKeepsWhatItIsAskedTo(t *testing.T) {
	if said := demoUntilReady(t); !strings.Contains(said, "kept only while this runs") || !strings.Contains(said, "demo --data DIR") {
		t.Errorf("it says %q", said)
	}
	dir := filepath.Join(t.TempDir(), "signs")
	for range 2 {
		if said := demoUntilReady(t, "--data", dir); strings.Contains(said, "kept only") {
			t.Errorf("it says %q", said)
		}
		s, err := studio.New(dir, studio.Still)
		if err != nil {
			t.Fatal(err)
		}
		list, err := s.Pieces(t.Context())
		if err != nil || len(list) != 9 {
			t.Errorf("%d pieces, %v", len(list), err)
		}
		if err := s.Close(); err != nil {
			t.Fatal(err)
		}
	}
}

// TestAPortInUse is said before anything is made, where it was asked for; else the next free one is
// taken.
func TestAPortInUse(t *testing.T) {
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer ln.Close()
	taken := ln.Addr().String()
	dir := filepath.Join(t.TempDir(), "signs")
	for _, command := range []string{"serve", "demo"} {
		var out, bad bytes.Buffer
		if code := run(t.Context(), []string{command, "--data", dir, "--listen", taken}, &out, &bad); code != 1 ||
			!strings.Contains(bad.String(), taken+" is in use") || !strings.Contains(bad.String(), "name another port") {
			t.Errorf("%s: %d %s", command, code, bad.String())
		}
		if _, err := os.Stat(dir); err == nil || out.Len() > 0 {
			t.Errorf("%s: something was made, or said: %s", command, out.String())
		}
	}
	o := opening{listen: taken}
	next, err := o.socket()
	if err != nil {
		t.Fatal(err)
	}
	defer next.Close()
	if next.Addr().String() == taken {
		t.Error("two have one port")
	}
	o.asked = true
	if _, err := o.socket(); err == nil {
		t.Error("another port than the one that was asked for")
	}
}

// TestNoticesFromTheCommandLine prints what of others is in the program.
func TestNoticesFromTheCommandLine(t *testing.T) {
	var out, bad bytes.Buffer
	if code := run(t.Context(), []string{"notices"}, &out, &bad); code != 0 || bad.Len() > 0 {
		t.Fatalf("%d %s", code, bad.String())
	}
	for _, want := range []string{"modernc.org/sqlite", "Mediabunny", "SIL OPEN FONT LICENSE", "three.js", "Apache License", "github.com/gofiber/fiber"} {
		if !strings.Contains(out.String(), want) {
			t.Errorf("%s is not noted", want)
		}
	}
}
