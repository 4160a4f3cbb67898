package web

import (
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"fmt"
	"io"
	"math/big"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"

	"bildhauer/internal/patience"
	"bildhauer/studio"
)

// TestLinksFromElsewhere follows links to pages as a letter or a chat has them, and tries to do
// anything else from there.
func TestLinksFromElsewhere(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("sign.svg", square)
	for _, c := range []struct {
		method, path, site, mode, dest string
		want                           int
	}{
		{"GET", "/", "cross-site", "navigate", "document", 200},
		{"GET", "/pieces/" + id + "/raise", "cross-site", "navigate", "document", 200},
		{"GET", "/pieces/" + id + "/sheet", "same-site", "navigate", "document", 200},
		{"GET", "/notices", "cross-site", "navigate", "document", 200},
		{"GET", "/pieces/" + id + "/raise", "cross-site", "navigate", "iframe", 403},
		{"GET", "/pieces/" + id + "/raise", "cross-site", "cors", "empty", 403},
		{"GET", "/pieces/" + id + "/data/state", "cross-site", "navigate", "document", 403},
		{"GET", "/pieces/" + id + "/file/stl", "cross-site", "navigate", "document", 403},
		{"GET", "/pieces/" + id + "/piece.zip", "cross-site", "navigate", "document", 403},
		{"GET", "/static/js/home/home.js", "cross-site", "no-cors", "script", 403},
		{"GET", "/token", "cross-site", "navigate", "document", 403},
		{"POST", "/pieces/" + id + "/delete", "cross-site", "navigate", "document", 403},
		{"POST", "/pieces/" + id + "/raise", "cross-site", "navigate", "document", 403},
	} {
		r, _ := http.NewRequest(c.method, s.address+c.path, nil)
		r.Header.Set("Sec-Fetch-Site", c.site)
		r.Header.Set("Sec-Fetch-Mode", c.mode)
		r.Header.Set("Sec-Fetch-Dest", c.dest)
		r.Header.Set("Accept", "text/html")
		res, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != c.want {
			t.Errorf("%s %s from %s as %s %s: %d, want %d", c.method, c.path, c.site, c.mode, c.dest, res.StatusCode, c.want)
		}
	}
}

// TestTheEntryLeadsBack asks for a page without a session: the entry leads to it, and to nothing that
// is no page of ours.
func TestTheEntryLeadsBack(t *testing.T) {
	address := entered(t)
	for to, want := range map[string]string{
		"/pieces/0123456789abcdef/mend": "/pieces/0123456789abcdef/mend", "/notices": "/notices", "": "/", "/leave": "/",
		"//evil.example/raise": "/", "https://evil.example/": "/", `/\evil.example`: "/", "/pieces/../token": "/", "/enter": "/",
	} {
		c, token := atTheEntry(t, address)
		c.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
		r, _ := http.NewRequest("POST", address+"/enter?to="+strings.ReplaceAll(to, "\\", "%5C"), strings.NewReader("passphrase="+strings.ReplaceAll(secret, " ", "+")))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("X-Csrf-Token", token)
		r.Header.Set("Accept", "text/html")
		res, err := c.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if res.StatusCode != 303 || res.Header.Get("Location") != want {
			t.Errorf("to %q: %d %s", to, res.StatusCode, res.Header.Get("Location"))
		}
	}
	res, err := http.DefaultTransport.RoundTrip(mustGet(address + "/pieces/0123456789abcdef/show"))
	if err != nil || res.Header.Get("Location") != "/enter?to=%2Fpieces%2F0123456789abcdef%2Fshow" {
		t.Errorf("a page leads to %v, %v", res.Header, err)
	}
}

func mustGet(address string) *http.Request {
	r, err := http.NewRequest("GET", address, nil)
	if err != nil {
		panic(err)
	}
	r.Header.Set("Accept", "text/html")
	return r
}

// overTLS runs an application with TLS of its own.
func overTLS(t *testing.T, app *fiber.App) (address string, client *http.Client) {
	t.Helper()
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		t.Fatal(err)
	}
	c := x509.Certificate{SerialNumber: big.NewInt(1), DNSNames: []string{"sign.example.org"}, NotAfter: time.Now().Add(time.Hour)}
	der, err := x509.CreateCertificate(rand.Reader, &c, &c, &key.PublicKey, key)
	if err != nil {
		t.Fatal(err)
	}
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	with := &tls.Config{Certificates: []tls.Certificate{{Certificate: [][]byte{der}, PrivateKey: key}}}
	go app.Listener(tls.NewListener(ln, with), fiber.ListenConfig{DisableStartupMessage: true})
	t.Cleanup(func() { app.ShutdownWithTimeout(time.Second) })
	roots := x509.NewCertPool()
	parsed, _ := x509.ParseCertificate(der)
	roots.AddCert(parsed)
	return "https://" + ln.Addr().String(), &http.Client{Transport: &http.Transport{
		TLSClientConfig: &tls.Config{RootCAs: roots, ServerName: "sign.example.org"}, DisableKeepAlives: true,
	}}
}

// TestWhoLeavesIsNoticed leaves while work goes on for them, plainly and over TLS, by closing at once
// and by saying farewell: the work ends.
func TestWhoLeavesIsNoticed(t *testing.T) {
	work := fiber.New()
	begun, ended := make(chan bool), make(chan bool)
	work.Get("/", func(c fiber.Ctx) error {
		ctx, stop := whilePresent(c)
		defer stop()
		begun <- true
		select {
		case <-ctx.Done():
			ended <- true
		case <-time.After(patience.Of(t)):
			ended <- false
		}
		return nil
	})
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go work.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	t.Cleanup(func() { work.ShutdownWithTimeout(time.Second) })
	encrypted, client := overTLS(t, work)
	for name, way := range map[string]struct {
		address string
		client  *http.Client
	}{"plainly": {"http://" + ln.Addr().String(), &http.Client{Transport: &http.Transport{}}}, "by TLS": {encrypted, client}} {
		ctx, leave := context.WithCancel(t.Context())
		r, _ := http.NewRequestWithContext(ctx, "GET", way.address+"/", nil)
		gone := make(chan error, 1)
		go func() {
			res, err := way.client.Do(r)
			if err == nil {
				io.Copy(io.Discard, res.Body)
				res.Body.Close()
			}
			gone <- err
		}()
		select {
		case <-begun:
		case err := <-gone:
			t.Fatalf("%s: %v", name, err)
		}
		leave()
		if err := <-gone; err == nil {
			t.Errorf("%s: the request came to an end", name)
		}
		if !<-ended {
			t.Errorf("%s: nobody noticed", name)
		}
	}
}

// TestStrictTransport tells browsers to come by HTTPS only where the TLS is the program's own, under
// its own name.
func TestStrictTransport(t *testing.T) {
	st, err := studio.New(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { st.Close() })
	for name, c := range map[string]struct {
		access Access
		host   string
		want   string
	}{
		"own TLS":         {Access{Passphrase: secret, Hosts: []string{"sign.example.org"}, Secure: true, TLS: true}, "sign.example.org", "max-age=31536000"},
		"on this machine": {Access{Passphrase: secret, Secure: true, TLS: true}, "localhost", ""},
		"behind a proxy":  {Access{Passphrase: secret, Hosts: []string{"sign.example.org"}, Secure: true}, "sign.example.org", ""},
	} {
		app, err := NewFor(st, c.access)
		if err != nil {
			t.Fatal(err)
		}
		address, client := overTLS(t, app)
		r := mustGet(address + "/enter")
		r.Host = c.host
		res, err := client.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		if got := res.Header.Get("Strict-Transport-Security"); res.StatusCode != 200 || got != c.want {
			t.Errorf("%s: %d %q", name, res.StatusCode, got)
		}
		if k := fmt.Sprint(res.Cookies()); !strings.Contains(k, "Secure") {
			t.Errorf("%s: cookies %s", name, k)
		}
	}
}
