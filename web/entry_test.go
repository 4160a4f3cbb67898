package web

import (
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/studio"
)

const secret = "gulls over the quay"

// TestTriesAreThrottled gives wrong passphrases from two addresses: some are free, then each
// doubles the wait of its own address up to a quarter of an hour; the right one ends that.
func TestTriesAreThrottled(t *testing.T) {
	e := newEntry(Access{Passphrase: secret})
	clock := time.Unix(1_900_000_000, 0)
	e.now = func() time.Time { return clock }
	for i := range 12 {
		if e.try("10.0.0.1", "wrong") {
			t.Fatal("a wrong passphrase is right")
		}
		want := time.Duration(0)
		if i >= freeTries-1 {
			want = min(longestOff, firstWait<<(i-freeTries+1))
		}
		if got := e.wait("10.0.0.1"); got != want {
			t.Errorf("after %d wrong ones the wait is %v, want %v", i+1, got, want)
		}
		if e.wait("10.0.0.2") != 0 {
			t.Error("another address waits, too")
		}
		clock = clock.Add(e.wait("10.0.0.1"))
	}
	if !e.try("10.0.0.1", secret) || e.wait("10.0.0.1") != 0 || e.try("10.0.0.1", strings.Repeat("x", 2000)) {
		t.Error("the right one is wrong, or does not end the waits")
	}
	token := e.open()
	if !e.known(token) || e.known(token+"x") || e.known("") {
		t.Error("sessions are not told apart")
	}
	clock = clock.Add(sessionIdle + time.Second)
	if e.known(token) {
		t.Error("a session does not end")
	}
}

// entered runs the application for those who know the passphrase, behind some proxies.
func entered(t *testing.T, proxies ...string) (address string) {
	t.Helper()
	st, err := studio.New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	access := Access{Passphrase: secret, Hosts: []string{"sign.example.org"}}
	if len(proxies) > 0 {
		access.Proxies, _ = ParseProxies(strings.Join(proxies, ","))
	}
	app, err := NewFor(st, access)
	if err != nil {
		t.Fatal(err)
	}
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go app.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	t.Cleanup(func() {
		app.ShutdownWithTimeout(time.Second)
		st.Close()
	})
	return "http://" + ln.Addr().String()
}

// atTheEntry returns a client that came to the entry, and the token for it.
func atTheEntry(t *testing.T, address string) (*http.Client, string) {
	t.Helper()
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar}
	r, _ := http.NewRequest("GET", address+"/enter", nil)
	r.Header.Set("Accept", "application/json")
	res, err := c.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	var said struct{ Token string }
	if err := json.NewDecoder(res.Body).Decode(&said); err != nil || said.Token == "" {
		t.Fatalf("no token: %v", err)
	}
	return c, said.Token
}

// TestOnlyThoseWhoKnow reads and changes with and without a session: nothing but the entry is
// answered to others, under no name but those that were given.
func TestOnlyThoseWhoKnow(t *testing.T) {
	address := entered(t)
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	ask := func(method, path, accept, host, body string) (int, string, http.Header) {
		t.Helper()
		r, _ := http.NewRequest(method, address+path, strings.NewReader(body))
		r.Header.Set("Accept", accept)
		if body != "" {
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		}
		if host != "" {
			r.Host = host
		}
		res, err := c.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		data, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(data), res.Header
	}
	const page, script = "text/html", "application/json"
	for _, path := range []string{"/", "/metrics", "/token", "/recipes", "/pieces/0123456789abcdef/data/state", "/frame", "/nowhere"} {
		if code, body, _ := ask("GET", path, script, "", ""); code != 401 || strings.Contains(body, "token") {
			t.Errorf("%s: %d %s", path, code, body)
		}
	}
	for _, path := range []string{"/static/../", "/static/..%2f", "/static/%2e%2e/token", "/static//../token", "//token", "/enter/../token"} {
		if code, body, _ := ask("GET", path, script, "", ""); code == 200 || strings.Contains(body, "token") {
			t.Errorf("%s: %d %s", path, code, body)
		}
	}
	if code, _, head := ask("GET", "/", page, "", ""); code/100 != 3 || head.Get("Location") != "/enter" {
		t.Errorf("a page leads to %d %s", code, head.Get("Location"))
	}
	for path, want := range map[string]int{"/healthz": 200, "/static/mark.svg": 200, "/enter": 200} {
		if code, _, _ := ask("GET", path, script, "", ""); code != want {
			t.Errorf("%s: %d", path, code)
		}
	}
	for host, want := range map[string]int{"sign.example.org": 200, "SIGN.example.org:443": 200, "other.example.org": 403, "sign.example.org.evil": 403} {
		if code, _, _ := ask("GET", "/enter", page, host, ""); code != want {
			t.Errorf("as %s: %d", host, code)
		}
	}
	// A program that watches the numbers sends the passphrase along, and gets nothing else for it.
	watch := func(path, passphrase string) (int, string) {
		r, _ := http.NewRequest("GET", address+path, nil)
		r.SetBasicAuth("watch", passphrase)
		res, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		data, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(data)
	}
	for range 2 {
		code, body := watch("/metrics", secret)
		if code != 200 || !strings.Contains(body, "bildhauer_requests_total") {
			t.Errorf("watched: %d %.60s", code, body)
		}
	}
	if code, _ := watch("/metrics", secret+"s"); code != 401 {
		t.Errorf("watched with another passphrase: %d", code)
	}
	if code, _ := watch("/token", secret); code != 401 {
		t.Errorf("the passphrase of a watcher opens /token: %d", code)
	}
	token := regexp.MustCompile(`name="_csrf" value="([^"]+)"`)
	enter := func(passphrase string) (int, string, http.Header) {
		_, body, _ := ask("GET", "/enter", page, "", "")
		m := token.FindStringSubmatch(body)
		if m == nil {
			t.Fatalf("no token in %s", body)
		}
		return ask("POST", "/enter", page, "", url.Values{"_csrf": {m[1]}, "passphrase": {passphrase}}.Encode())
	}
	if code, _, _ := ask("POST", "/enter", page, "", "passphrase="+url.QueryEscape(secret)); code != 403 {
		t.Errorf("another site enters: %d", code)
	}
	if code, body, _ := enter("wrong"); code != 403 || !strings.Contains(body, "not the passphrase") {
		t.Errorf("a wrong one: %d", code)
	}
	code, _, head := enter(secret)
	cookie := fmt.Sprint(head.Values("Set-Cookie"))
	if code != 303 || !strings.Contains(cookie, sessionCookie) || !strings.Contains(cookie, "HttpOnly") || !strings.Contains(cookie, "SameSite=Lax") {
		t.Fatalf("the right one: %d %s", code, cookie)
	}
	if code, body, _ := ask("GET", "/", page, "", ""); code != 200 || !strings.Contains(body, "Bildhauer") {
		t.Errorf("inside: %d", code)
	}
	for range freeTries {
		if code, _, _ = ask("GET", "/token", script, "", ""); code != 200 {
			t.Errorf("inside: %d", code)
		}
	}
	// Leaving ends it; wrong ones close the entry for a while.
	_, body, _ := ask("GET", "/token", script, "", "")
	_, rest, _ := strings.Cut(body, `"token":"`)
	r, _ := http.NewRequest("POST", address+"/leave", nil)
	r.Header.Set("X-Csrf-Token", strings.TrimRight(rest, "\"}"))
	if res, err := c.Do(r); err != nil || res.StatusCode != 200 {
		t.Errorf("leaving: %v, %v", res, err)
	}
	if code, _, _ := ask("GET", "/token", script, "", ""); code != 401 {
		t.Errorf("after leaving: %d", code)
	}
	for range freeTries {
		enter("wrong")
	}
	if code, body, head := enter(secret); code != 429 || !strings.Contains(body, "wrong too often") || head.Get("Retry-After") == "" {
		t.Errorf("after many wrong ones: %d", code)
	}
}
