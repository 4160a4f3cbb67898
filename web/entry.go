package web

import (
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"net"
	"net/netip"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/csrf"
	"golang.org/x/crypto/argon2"
)

// Access says who may use the application. The zero value is for this machine alone.
type Access struct {
	Passphrase string   // that all who may enter know; "" for nobody but this machine
	Hosts      []string // names under which it is reached, beside those of this machine
	Secure     bool     // it is reached by HTTPS only
	TLS        bool     // by the program itself

	Proxies []netip.Prefix // what stands in front and tells who asks
}

// cost is what a try costs.
type cost struct {
	time    uint32
	memory  uint32 // KiB
	threads uint8
}

// tryCost is RFC 9106, 4: the second recommended choice, for less memory; some 50 ms.
var tryCost = cost{time: 3, memory: 64 << 10, threads: 2}

const hashBytes = 32

// How tries are throttled: some are free, then each wrong one from an address doubles how long
// the next has to wait.
const (
	freeTries  = 5
	firstWait  = 2 * time.Second
	longestOff = 15 * time.Minute
	mostTried  = 10_000 // addresses that are remembered

	forgetEvery = 10 * time.Second // at the most: it takes a look at all
	strangers   = "?"              // stands for the addresses for which there is no room
)

const (
	sessionCookie = "bildhauer_entry"
	sessionIdle   = 12 * time.Hour
	mostSessions  = 10_000
)

// entry lets people in who know the passphrase.
type entry struct {
	salt, hash []byte
	secure     bool
	now        func() time.Time

	trying sync.Mutex // one try at a time: each takes 64 MB

	mu       sync.Mutex
	sessions map[[32]byte]time.Time // by the hash of what the cookie holds: until when
	tries    map[string]*tried
	forgot   time.Time // when those that may try again were dropped
}

type tried struct {
	wrong int
	until time.Time // no try before
}

func newEntry(a Access) *entry {
	if a.Passphrase == "" {
		return nil
	}
	e := &entry{salt: make([]byte, 16), secure: a.Secure, now: time.Now, sessions: map[[32]byte]time.Time{}, tries: map[string]*tried{}}
	rand.Read(e.salt)
	e.hash = e.hashOf(a.Passphrase)
	return e
}

func (e *entry) hashOf(passphrase string) []byte {
	return argon2.IDKey([]byte(passphrase), e.salt, tryCost.time, tryCost.memory, tryCost.threads, hashBytes)
}

// wait returns how long an address has to wait before its next try.
func (e *entry) wait(address string) time.Duration {
	e.mu.Lock()
	defer e.mu.Unlock()
	t := e.tries[address]
	if t == nil && len(e.tries) >= mostTried {
		t = e.tries[strangers]
	}
	if t != nil {
		return max(0, t.until.Sub(e.now()))
	}
	return 0
}

// try compares a passphrase and remembers the address of a wrong one.
func (e *entry) try(address, passphrase string) bool {
	e.trying.Lock()
	defer e.trying.Unlock()
	right := len(passphrase) <= 1000 && subtle.ConstantTimeCompare(e.hashOf(passphrase), e.hash) == 1
	e.mu.Lock()
	defer e.mu.Unlock()
	if right {
		delete(e.tries, address)
		return true
	}
	e.count(address)
	return false
}

// count remembers a wrong try; e.mu is held.
func (e *entry) count(address string) {
	t := e.tries[address]
	if t == nil {
		if len(e.tries) >= mostTried && e.now().Sub(e.forgot) >= forgetEvery {
			e.forget()
		}
		if len(e.tries) >= mostTried { // no room: all that are new share one entry
			address = strangers
			t = e.tries[address]
		}
		if t == nil {
			t = &tried{}
			e.tries[address] = t
		}
	}
	if t.wrong++; t.wrong >= freeTries {
		t.until = e.now().Add(min(longestOff, firstWait<<min(t.wrong-freeTries, 20)))
	}
}

// forget drops the addresses that may try again.
func (e *entry) forget() {
	e.forgot = e.now()
	for a, t := range e.tries {
		if !t.until.After(e.now()) {
			delete(e.tries, a)
		}
	}
}

// open begins a session and returns what its cookie holds.
func (e *entry) open() string {
	var b [32]byte
	rand.Read(b[:])
	token := base64.RawURLEncoding.EncodeToString(b[:])
	e.begin(token)
	return token
}

// begin begins the session that a token stands for.
func (e *entry) begin(token string) {
	e.mu.Lock()
	defer e.mu.Unlock()
	if len(e.sessions) >= mostSessions {
		for k, until := range e.sessions {
			if until.Before(e.now()) {
				delete(e.sessions, k)
			}
		}
	}
	if len(e.sessions) < mostSessions {
		e.sessions[sha256.Sum256([]byte(token))] = e.now().Add(sessionIdle)
	}
}

// known reports whether a session is open, and keeps it open.
func (e *entry) known(token string) bool {
	key := sha256.Sum256([]byte(token))
	e.mu.Lock()
	defer e.mu.Unlock()
	until, ok := e.sessions[key]
	if !ok || until.Before(e.now()) {
		delete(e.sessions, key)
		return false
	}
	e.sessions[key] = e.now().Add(sessionIdle)
	return true
}

func (e *entry) close(token string) {
	e.mu.Lock()
	defer e.mu.Unlock()
	delete(e.sessions, sha256.Sum256([]byte(token)))
}

func (e *entry) cookie(token string, age time.Duration) *fiber.Cookie {
	return &fiber.Cookie{
		Name: sessionCookie, Value: token, Path: "/", MaxAge: int(age.Seconds()),
		HTTPOnly: true, Secure: e.secure, SameSite: "Lax", // a link from elsewhere leads to the page, not to the entry
	}
}

// keep lets only those pass who have entered; pages lead to the entry, and from there back.
func (h *server) keep(c fiber.Ctx) error {
	path := c.Path()
	if h.entry == nil || path == "/enter" || path == "/healthz" || strings.HasPrefix(path, "/static/") {
		return c.Next()
	}
	if h.entry.known(c.Cookies(sessionCookie)) || path == "/metrics" && h.watcher(c) {
		return c.Next()
	}
	if c.Method() == fiber.MethodGet && strings.Contains(c.Get("Accept"), "text/html") {
		if path != "/" && isPage(path) {
			return c.Redirect().To("/enter?to=" + url.QueryEscape(path))
		}
		return c.Redirect().To("/enter")
	}
	return fiber.NewError(fiber.StatusUnauthorized, "Enter the passphrase first: open this page again.")
}

// wayBack is the page that somebody wanted before the entry.
func wayBack(c fiber.Ctx) string {
	if to := c.Query("to"); isPage(to) && to != "/enter" {
		return to
	}
	return "/"
}

// watcher reports whether a request comes from a program that watches the numbers and knows the
// passphrase: by HTTP Basic authentication (RFC 7617), the name is any. It is compared once, then
// what was sent stands for a session.
func (h *server) watcher(c fiber.Ctx) bool {
	sent := c.Get("Authorization")
	name, coded, _ := strings.Cut(sent, " ")
	if !strings.EqualFold(name, "Basic") {
		return false
	}
	if h.entry.known(sent) {
		return true
	}
	raw, err := base64.StdEncoding.DecodeString(coded)
	_, passphrase, ok := strings.Cut(string(raw), ":")
	if err != nil || !ok || h.entry.wait(h.address(c)) > 0 || !h.entry.try(h.address(c), passphrase) {
		return false
	}
	h.entry.begin(sent)
	return true
}

func (h *server) enterPage(c fiber.Ctx, code int, say string) error {
	c.Status(code)
	c.Set("Cache-Control", "no-store")
	if !strings.Contains(c.Get("Accept"), "text/html") { // a page that is open asks in a dialog of its own
		return c.JSON(fiber.Map{"error": say, "token": csrf.TokenFromContext(c)})
	}
	return c.Render("enter", fiber.Map{
		"Title": "Enter", "Text": say, "Token": csrf.TokenFromContext(c), "To": "/enter?to=" + url.QueryEscape(wayBack(c)),
	})
}

func (h *server) askToEnter(c fiber.Ctx) error {
	if h.entry == nil || h.entry.known(c.Cookies(sessionCookie)) {
		return c.Redirect().To(wayBack(c))
	}
	return h.enterPage(c, fiber.StatusOK, "")
}

func (h *server) enter(c fiber.Ctx) error {
	if h.entry == nil {
		return c.Redirect().To("/")
	}
	address := h.address(c)
	if wait := h.entry.wait(address); wait > 0 {
		c.Set("Retry-After", "60")
		return h.enterPage(c, fiber.StatusTooManyRequests, "That was wrong too often. Try again in "+inWords(wait)+".")
	}
	if !h.entry.try(address, c.FormValue("passphrase")) {
		return h.enterPage(c, fiber.StatusForbidden, "That is not the passphrase.")
	}
	c.Cookie(h.entry.cookie(h.entry.open(), 30*24*time.Hour))
	if !strings.Contains(c.Get("Accept"), "text/html") {
		return c.JSON(fiber.Map{"ok": true})
	}
	return c.Redirect().Status(fiber.StatusSeeOther).To(wayBack(c))
}

func (h *server) leave(c fiber.Ctx) error {
	if h.entry != nil {
		h.entry.close(c.Cookies(sessionCookie))
		c.Cookie(h.entry.cookie("", -time.Second))
	}
	return c.JSON(fiber.Map{"to": "/enter"})
}

// inWords returns a time to wait, rounded up.
func inWords(d time.Duration) string {
	if d > time.Minute {
		return someOf(int((d+time.Minute-1)/time.Minute), "minute")
	}
	return someOf(int((d+time.Second-1)/time.Second), "second")
}

func someOf(n int, word string) string {
	if n == 1 {
		return "a " + word
	}
	return strconv.Itoa(n) + " " + word + "s"
}

// named reports whether a Host header is one under which the application may be reached.
func (a *Access) named(hostport string) bool {
	host := hostport
	if h, _, err := net.SplitHostPort(hostport); err == nil {
		host = h
	}
	return loopback(hostport) || a.Passphrase != "" && slices.Contains(a.Hosts, strings.ToLower(host))
}
