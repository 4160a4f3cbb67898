//go:build unix

package main

import (
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
)

// modest copies the test program to where anybody may run it, and returns how it is started as
// somebody who may not write everywhere: the superuser may, whatever a folder says.
func modest(t *testing.T) (start func(arg ...string) *exec.Cmd, uid int) {
	t.Helper()
	self, err := os.Executable()
	if err != nil {
		t.Fatal(err)
	}
	if uid = os.Getuid(); uid != 0 {
		return func(arg ...string) *exec.Cmd {
			c := exec.Command(self, arg...)
			c.Env = append(os.Environ(), "BILDHAUER_AS_PROGRAM=1")
			return c
		}, uid
	}
	uid = 65534
	copied := filepath.Join(openDir(t), "bildhauer")
	in, err := os.Open(self)
	if err != nil {
		t.Fatal(err)
	}
	defer in.Close()
	out, err := os.OpenFile(copied, os.O_CREATE|os.O_WRONLY, 0o755)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := io.Copy(out, in); err != nil {
		t.Fatal(err)
	}
	out.Close()
	return func(arg ...string) *exec.Cmd {
		c := exec.Command(copied, arg...)
		c.Env = append(os.Environ(), "BILDHAUER_AS_PROGRAM=1")
		c.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: uint32(uid), Gid: uint32(uid)}}
		return c
	}, uid
}

// openDir returns a folder that anybody may enter, which those of the testing package are not.
func openDir(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "bildhauer-test-*")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	if err := os.Chmod(dir, 0o755); err != nil {
		t.Fatal(err)
	}
	return dir
}

// TestReadOnlyFolder starts the program on a folder that it may not write, and takes the right to
// write away while it runs: each is said plainly, at the start and at the act, and what was there
// can still be looked at.
func TestReadOnlyFolder(t *testing.T) {
	start, uid := modest(t)
	dir := filepath.Join(openDir(t), "data")
	if err := os.Mkdir(dir, 0o700); err != nil {
		t.Fatal(err)
	}
	args := []string{"serve", "--data", dir, "--listen", "127.0.0.1:0", "--printer", "127.0.0.1:1"}
	if err := os.Chmod(dir, 0o555); err != nil {
		t.Fatal(err)
	}
	out, err := start(args...).CombinedOutput()
	if err == nil || !strings.Contains(string(out), "can't be written") || strings.Contains(string(out), "panic") {
		t.Errorf("started on it: %v, %s", err, out)
	}
	if list, _ := os.ReadDir(dir); len(list) > 0 {
		t.Errorf("left behind: %v", list)
	}
	os.Chmod(dir, 0o700)
	if err := os.Chown(dir, uid, -1); err != nil {
		t.Fatal(err)
	}
	p := launched(t, start(args...))
	defer p.kill()
	u, err := p.person()
	if err != nil {
		t.Fatal(err)
	}
	id, err := u.upload("sign.svg", `<svg xmlns="http://www.w3.org/2000/svg" width="60" height="60"><rect width="40" height="40"/></svg>`)
	if err != nil {
		t.Fatal(err)
	}
	filepath.WalkDir(dir, func(path string, d os.DirEntry, err error) error {
		mode := os.FileMode(0o400)
		if d.IsDir() {
			mode = 0o500
		}
		os.Chmod(path, mode)
		return err
	})
	if _, err := u.fetch("/pieces/" + id + "/file/stl"); err == nil || !strings.Contains(err.Error(), "can't be written") {
		t.Errorf("a file is written: %v", err)
	}
	if err := u.ask("GET", "/pieces/"+id+"/data/state", "", nil, nil); err != nil {
		t.Errorf("looked at: %v", err)
	}
	filepath.WalkDir(dir, func(path string, d os.DirEntry, err error) error {
		if d.IsDir() {
			os.Chmod(path, 0o700)
		}
		return err
	})
	if _, err := u.fetch("/pieces/" + id + "/file/stl"); err != nil {
		t.Errorf("once it may be written again: %v", err)
	}
}
