package main

import (
	"os"
	"os/exec"
	"regexp"
	"strings"
	"testing"
)

// TestDeployments takes the command lines of the unit and of the container apart as the program
// does, and lets systemd look at the unit where it is there.
func TestDeployments(t *testing.T) {
	dir := t.TempDir()
	secret := dir + "/passphrase"
	if err := os.WriteFile(secret, []byte("gulls over the quay\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	unit, err := os.ReadFile("../../deploy/bildhauer.service")
	if err != nil {
		t.Fatal(err)
	}
	container, err := os.ReadFile("../../deploy/Containerfile")
	if err != nil {
		t.Fatal(err)
	}
	unfold := strings.NewReplacer("\\\n", " ", `",`, " ", `"`, "", "[", "", "]", "").Replace
	line := regexp.MustCompile(`(?m)^(?:ExecStart=|ENTRYPOINT )\S*bildhauer +(serve .*)$`)
	for name, text := range map[string]string{"unit": unfold(string(unit)), "container": strings.TrimSpace(unfold(string(container))) + " --host sign.example.org"} {
		m := line.FindStringSubmatch(strings.TrimSpace(text))
		if m == nil {
			t.Errorf("%s: no command line", name)
			continue
		}
		args := strings.Fields(m[1])
		for i, a := range args {
			switch a {
			case "--passphrase-file":
				args[i+1] = secret
			case "--data":
				args[i+1] = "/dev/null/nowhere" // it gets as far as the data folder
			}
		}
		if _, _, errs := call(t, args...); !strings.Contains(errs, "data folder") {
			t.Errorf("%s: %v ends with %s", name, args, errs)
		}
	}
	if _, err := exec.LookPath("systemd-analyze"); err == nil {
		out, _ := exec.Command("systemd-analyze", "verify", "--man=no", "../../deploy/bildhauer.service").CombinedOutput()
		for _, l := range strings.Split(string(out), "\n") {
			if strings.Contains(l, "bildhauer.service") && !strings.Contains(l, "not executable") && !strings.Contains(l, "bildhauer is not") {
				t.Errorf("systemd says %s", l)
			}
		}
	}
}
