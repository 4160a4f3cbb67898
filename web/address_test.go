package web

import (
	"fmt"
	"net/http"
	"net/netip"
	"strings"
	"testing"
	"time"
)

// TestWhoAsks reads X-Forwarded-For as proxies and people write it: what somebody wrote before the
// proxies that are named counts for nothing, and an IPv6 network is one address.
func TestWhoAsks(t *testing.T) {
	proxies, bad := ParseProxies("127.0.0.1, 10.1.0.0/16,fd00::/8")
	if bad != "" {
		t.Fatal(bad)
	}
	for _, c := range []struct {
		peer string
		says []string
		want string
	}{
		{"127.0.0.1", []string{"203.0.113.7"}, "203.0.113.7"},
		{"127.0.0.1", []string{"1.2.3.4, 203.0.113.7"}, "203.0.113.7"},
		{"127.0.0.1", []string{"1.2.3.4", "203.0.113.7"}, "203.0.113.7"},
		{"127.0.0.1", []string{"1.2.3.4, 203.0.113.7, 10.1.2.3"}, "203.0.113.7"},
		{"127.0.0.1", []string{"1.2.3.4, 203.0.113.7:5555, 10.1.2.3"}, "203.0.113.7"},
		{"203.0.113.9", []string{"1.2.3.4"}, "203.0.113.9"},
		{"10.2.0.1", []string{"1.2.3.4"}, "10.2.0.1"},
		{"127.0.0.1", nil, "127.0.0.1"},
		{"127.0.0.1", []string{"somebody, unknown"}, "127.0.0.1"},
		{"127.0.0.1", []string{"1.2.3.4, unknown"}, "127.0.0.1"},
		{"127.0.0.1", []string{"10.1.0.5, 10.1.0.6"}, "10.1.0.5"},
		{"fd00::1", []string{"1.2.3.4, 2001:db8:1:2:3:4:5:6"}, "2001:db8:1:2::/64"},
		{"2001:db8:1:2:ffff::1", nil, "2001:db8:1:2::/64"},
		{"127.0.0.1", []string{"[2001:db8:1:2::9]:443"}, "2001:db8:1:2::/64"},
		{"::ffff:127.0.0.1", []string{"203.0.113.7"}, "203.0.113.7"},
	} {
		if got := of(forwarded(netip.MustParseAddr(c.peer).Unmap(), c.says, proxies)); got != c.want {
			t.Errorf("%s says %q: %s, want %s", c.peer, c.says, got, c.want)
		}
	}
	if _, bad := ParseProxies("10.0.0.1, nobody"); bad != "nobody" {
		t.Errorf("%q is taken for an address", bad)
	}
}

// TestNobodyWritesTheirOwnAddress tries wrong passphrases behind a proxy, each with another address in
// front of the true one: after five the entry is closed for who tries, and open for others.
func TestNobodyWritesTheirOwnAddress(t *testing.T) {
	address := entered(t, "127.0.0.1")
	try := func(forwarded string) int {
		c, token := atTheEntry(t, address)
		r, _ := http.NewRequest("POST", address+"/enter", strings.NewReader("passphrase=wrong"))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		r.Header.Set("X-Csrf-Token", token)
		r.Header.Set("X-Forwarded-For", forwarded)
		res, err := c.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		res.Body.Close()
		return res.StatusCode
	}
	for i := range freeTries {
		if code := try(fmt.Sprintf("10.9.9.%d, 203.0.113.7", i)); code != 403 {
			t.Fatalf("try %d: %d", i, code)
		}
	}
	if code := try("10.9.9.99, 203.0.113.7"); code != 429 {
		t.Errorf("with an address of one's own making: %d", code)
	}
	if code := try("10.9.9.99, 203.0.113.8"); code != 403 {
		t.Errorf("somebody else: %d", code)
	}
}

// TestManyStrangers comes from more addresses than are remembered: it costs neither memory nor a walk
// through all of them each time, and nobody is let off for it.
func TestManyStrangers(t *testing.T) {
	a := newAllowance()
	clock := time.Unix(1_900_000_000, 0)
	a.now = func() time.Time { return clock }
	for i := range mostRemember + 1000 {
		if done, _ := a.begin(fmt.Sprint(i), false, 0); done != nil {
			done()
		}
		a.seen[fmt.Sprint(min(i, mostRemember-1))].files.AllowN(clock, 1) // all are in use
	}
	if len(a.seen) > mostRemember+1 {
		t.Errorf("%d addresses are remembered", len(a.seen))
	}
	begun := time.Now()
	const asks = 20_000
	for i := range asks {
		if done, _ := a.begin(fmt.Sprint("late ", i), false, 0); done != nil {
			done()
		}
	}
	// A walk through ten thousand takes some 200 us: walks alone would take four seconds.
	if took := time.Since(begun); took > 2*time.Second {
		t.Errorf("%d requests of strangers took %v", asks, took)
	}
	e := newEntry(Access{Passphrase: secret})
	e.now = func() time.Time { return clock }
	e.hash = nil // all are wrong
	for i := range mostTried {
		e.tries[fmt.Sprint(i)] = &tried{wrong: 9, until: clock.Add(time.Hour)}
	}
	for i := range freeTries + 1 {
		e.count(fmt.Sprint("stranger ", i))
	}
	if e.wait("stranger of all") == 0 || e.wait("7") == 0 || len(e.tries) > mostTried+1 {
		t.Errorf("strangers wait %v, those of before %v, %d are remembered", e.wait("stranger of all"), e.wait("7"), len(e.tries))
	}
}

// TestVisitsKeepNothing asks for the entry many times without a cookie: nothing of it stays, and every
// token is good with its cookie, and no other.
func TestVisitsKeepNothing(t *testing.T) {
	k := newTokens()
	seen := map[string]bool{}
	for range 1000 {
		token := k.make()
		if v, err := k.Get(token); v == nil || err != nil || seen[token] {
			t.Fatalf("a token that was made: %v, %v", v, err)
		}
		seen[token] = true
		other := []byte(token)
		other[len(other)/2] ^= 1
		for _, bad := range []string{string(other), token[:len(token)-2], "", "x", newTokens().make()} {
			if v, _ := k.Get(bad); v != nil {
				t.Fatalf("%q is taken for a token", bad)
			}
		}
	}
	if k.Set("mine", []byte{1}, time.Hour) != nil {
		t.Fatal("set")
	}
	if v, _ := k.Get("mine"); v != nil {
		t.Error("something is kept")
	}
}
