// Package web serves the application's pages and their data.
package web

import (
	"embed"
	"fmt"
	"io/fs"
	"net"
	"net/netip"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/extractors"
	"github.com/gofiber/fiber/v3/middleware/csrf"
	"github.com/gofiber/fiber/v3/middleware/etag"
	"github.com/gofiber/fiber/v3/middleware/recover"
	"github.com/gofiber/fiber/v3/middleware/static"

	"bildhauer/studio"
)

//go:embed static
var staticFiles embed.FS

// policy lets pages load their own files only; nothing inline runs. Workers may be made from what a page has in memory:
// mediabunny parts alpha from colours in one.
const policy = "default-src 'none'; script-src 'self'; worker-src 'self' blob:; style-src 'self'; img-src 'self' data: blob:; " +
	"connect-src 'self'; font-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"

// server answers requests on top of a studio.
type server struct {
	studio  *studio.Studio
	metrics *metrics
	access  Access
	entry   *entry // nil for this machine alone

	allowance *allowance
	tokens    *tokens
}

// New returns the application on top of a studio, for this machine.
func New(s *studio.Studio) (*fiber.App, error) { return NewFor(s, Access{}) }

// NewFor returns the application for those who may use it.
func NewFor(s *studio.Studio, a Access) (*fiber.App, error) {
	views, err := newViews()
	if err != nil {
		return nil, err
	}
	h := &server{studio: s, metrics: newMetrics(s), access: a, entry: newEntry(a), allowance: newAllowance(), tokens: newTokens()}
	app := fiber.New(fiber.Config{
		AppName:           "Bildhauer",
		Views:             views,
		BodyLimit:         1 << 20, // what is read ahead; larger bodies are streams with limits of their own
		StreamRequestBody: true,
		// A form is read where its limits are known (request.go).
		DisablePreParseMultipartForm: true,
		ErrorHandler:                 h.handleError,
		ReadTimeout:                  60 * time.Second,
		// What the proxy says of scheme and host; who asks is told by address.
		TrustProxy:       len(a.Proxies) > 0,
		TrustProxyConfig: fiber.TrustProxyConfig{Proxies: proxyNames(a.Proxies)},
		// What is read of a request outlives its handler in jobs, series, streams and allowances;
		// without this the next request on the same connection would change it.
		Immutable: true,
	})
	app.Use(recover.New(recover.Config{EnableStackTrace: true}))
	app.Use(h.metrics.count)
	app.Use(h.guard)
	app.Use(h.keep)
	app.Use(h.allow)
	app.Get("/healthz", h.health)
	app.Get("/metrics", h.metrics.text)
	sub, err := fs.Sub(staticFiles, "static")
	if err != nil {
		return nil, err
	}
	app.Use("/static", etag.New(), static.New("", static.Config{FS: sub, MaxAge: 0}))
	app.Use(csrf.New(csrf.Config{
		Extractor: extractors.Chain(extractors.FromHeader("X-Csrf-Token"), extractors.FromCustom("form", func(c fiber.Ctx) (string, error) {
			if c.Path() != "/enter" { // the one form that is sent without a script
				return "", extractors.ErrNotFound
			}
			return c.FormValue("_csrf"), nil
		})),
		KeyGenerator: h.tokens.make, Storage: h.tokens,
		CookieName: "bildhauer_csrf", CookieHTTPOnly: true, CookieSameSite: "Lax", CookieSecure: a.Secure, IdleTimeout: 12 * time.Hour,
		ErrorHandler: func(fiber.Ctx, error) error {
			return fiber.NewError(
				fiber.StatusForbidden,
				"This page is too old to make changes. Reload it and try again.",
			)
		},
	}))
	h.routes(app)
	return app, nil
}

func proxyNames(list []netip.Prefix) (out []string) {
	for _, p := range list {
		out = append(out, p.String())
	}
	return out
}

// routes names the address of everything.
func (h *server) routes(app *fiber.App) {
	app.Get("/", h.home)
	app.Get("/enter", h.askToEnter)
	app.Post("/enter", h.enter)
	app.Post("/leave", h.leave)
	app.Post("/aside/:number", h.keepAside)
	app.Get("/token", func(c fiber.Ctx) error { return c.JSON(fiber.Map{"token": csrf.TokenFromContext(c)}) })
	app.Get("/frame", h.frame)
	app.Post("/pieces", h.create)
	app.Post("/jobs/:job/cancel", h.cancel)
	app.Get("/recipes", h.recipes)
	app.Post("/series", h.startSeries)
	app.Get("/series/:id", h.seriesState)
	app.Post("/series/:id/cancel", h.cancelSeries)
	app.Post("/series/:id/remove", h.removeSeries)
	app.Get("/work", h.work)
	app.Get("/deleted", h.deleted)
	app.Post("/deleted/:kind/:what/back", h.bringBack)
	app.Get("/notices", h.notices)
	app.Get("/series/:id/results.zip", h.seriesZip)
	app.Post("/recipes", h.keepRecipe)
	app.Post("/recipes/drop", h.dropRecipe)
	app.Get("/moves", h.moves)
	app.Post("/moves", h.keepMove)
	app.Post("/moves/drop", h.dropMove)
	app.Get("/moves/file/:name", h.moveFile)
	app.Get("/palettes", h.palettes)
	app.Post("/palettes", h.keepPalette)
	app.Post("/palettes/drop", h.dropPalette)
	app.Get("/recipes/file/:name", h.recipeFile)

	app.Get("/pieces/:id", func(c fiber.Ctx) error {
		return c.Redirect().To("/pieces/" + url.PathEscape(c.Params("id")) + "/raise")
	})
	app.Get("/pieces/:id/thumb.svg", h.thumb)
	app.Get("/pieces/:id/data/state", h.state)
	app.Get("/pieces/:id/data/events", h.events)
	app.Post("/pieces/:id/change", h.change)
	app.Post("/pieces/:id/undo", h.undo)
	app.Post("/pieces/:id/redo", h.redo)
	app.Get("/pieces/:id/data/history", h.history)
	app.Get("/pieces/:id/history/:rev/thumb.svg", h.stepThumb)
	app.Post("/pieces/:id/history/:rev", h.goTo)
	app.Post("/pieces/:id/duplicate", h.duplicate)
	app.Post("/pieces/:id/delete", h.remove)

	app.Get("/pieces/:id/data/versions", h.versions)
	app.Post("/pieces/:id/versions", h.keepVersion)
	app.Post("/pieces/:id/versions/:version/back", h.goBack)
	app.Post("/pieces/:id/versions/:version/drop", h.dropVersion)
	app.Get("/pieces/:id/versions/:version/compare", h.compare)
	app.Get("/pieces/:id/versions/:version/state", h.versionState)
	app.Get("/pieces/:id/versions/:version/thumb.svg", h.versionThumb)
	app.Get("/pieces/:id/piece.zip", h.bundle)
	app.Get("/pieces/:id/data/drawing", h.drawing)
	app.Post("/pieces/:id/sheets", h.addFiles)
	app.Get("/pieces/:id/sheets/:slot/picture", h.original)
	app.Post("/pieces/:id/sheets/:slot/propose", h.propose)
	app.Post("/pieces/:id/sheets/:slot/accept", h.accept)
	app.Post("/pieces/:id/decline", h.decline)
	app.Get("/pieces/:id/data/mending", h.mending)
	app.Get("/pieces/:id/data/findings", h.openFindings)
	app.Get("/pieces/:id/data/nodes", h.nodes)
	app.Post("/pieces/:id/mend", h.takeFindings)
	app.Post("/pieces/:id/heights", h.coloursByHeight)
	app.Post("/pieces/:id/data/trial", h.trial)
	app.Post("/pieces/:id/data/solids", h.solids)
	app.Post("/pieces/:id/data/relief", h.relief)
	app.Post("/pieces/:id/data/colours", h.colours)
	app.Get("/pieces/:id/data/outlines", h.outlinesOf)
	app.Post("/pieces/:id/data/picture", h.picture)
	app.Post("/pieces/:id/data/seen", h.seen)
	app.Get("/pieces/:id/data/live", h.live)
	app.Get("/pieces/:id/data/ambience", h.ambience)
	app.Get("/pieces/:id/data/drawn/:part", h.drawn)
	app.Post("/pieces/:id/move", h.giveMove)
	app.Post("/pieces/:id/surroundings", h.surround)
	app.Get("/material", h.sample)
	app.Get("/pieces/:id/data/orders", h.orders)
	app.Post("/pieces/:id/orders", h.order)
	app.Post("/pieces/:id/orders/:order/use", h.useOrder)
	app.Post("/pieces/:id/orders/:order/:act", h.orderAct)
	app.Get("/pieces/:id/orders/:order/look", h.orderLook)
	app.Get("/pieces/:id/orders/:order/frames.zip", h.orderFrames)
	app.Get("/pieces/:id/orders/:order/clip.png", h.orderClip)
	app.Get("/pieces/:id/orders/:order/:n", h.orderFile)
	app.Get("/pieces/:id/data/checks", h.checks)
	app.Get("/pieces/:id/data/print", h.printReport)
	app.Get("/pieces/:id/data/stands", h.stands)
	app.Get("/pieces/:id/data/rehearsal", h.rehearsal)
	app.Get("/pieces/:id/data/layer", h.layer)
	app.Get("/pieces/:id/data/printer", h.printer)
	app.Post("/pieces/:id/prints", h.sendPrint)
	app.Post("/pieces/:id/prints/:print/:act", h.printAct)
	app.Get("/pieces/:id/sheet", h.sheet)
	app.Get("/pieces/:id/sheet.png", h.sheetPicture)
	app.Get("/pieces/:id/file/:format", h.download)
	app.Get("/pieces/:id/:step", h.step)
	app.Use(func(fiber.Ctx) error {
		return fiber.NewError(fiber.StatusNotFound, "There is nothing at this address.")
	})
}

// guard accepts requests only under the names of this machine and, but for links to
// pages, only from the application's own pages, so that no other site can reach it
// through the browser or a rebound name.
func (h *server) guard(c fiber.Ctx) error {
	c.Set("Content-Security-Policy", policy)
	c.Set("X-Content-Type-Options", "nosniff")
	c.Set("Referrer-Policy", "same-origin")
	c.Set("Cross-Origin-Opener-Policy", "same-origin")
	host := c.Host()
	if h.access.TLS && !loopback(host) { // a year; on this machine other programs have the name, too
		c.Set("Strict-Transport-Security", "max-age=31536000")
	}
	if !h.access.named(host) {
		return fiber.NewError(
			fiber.StatusForbidden,
			"Bildhauer answers only under the address of this machine.",
		)
	}
	if o := c.Get("Origin"); o != "" && o != "null" {
		u, err := url.Parse(o)
		if err != nil || u.Host != host {
			return fiber.NewError(fiber.StatusForbidden, "Another site may not use Bildhauer.")
		}
	}
	if site := c.Get("Sec-Fetch-Site"); site != "" && site != "same-origin" && site != "none" && !followed(c) {
		return fiber.NewError(fiber.StatusForbidden, "Another site may not use Bildhauer.")
	}
	return c.Next()
}

// followed reports whether a request is a link to a page that somebody followed, from a letter say:
// it opens the page in a window of its own and changes nothing.
func followed(c fiber.Ctx) bool {
	return c.Method() == fiber.MethodGet && c.Get("Sec-Fetch-Mode") == "navigate" && c.Get("Sec-Fetch-Dest") == "document" &&
		isPage(c.Path())
}

// isPage reports whether a path is one that people look at.
func isPage(path string) bool {
	switch path {
	case "/", "/enter", "/notices":
		return true
	}
	id, step, _ := strings.Cut(strings.TrimPrefix(path, "/pieces/"), "/")
	if !strings.HasPrefix(path, "/pieces/") || id == "" {
		return false
	}
	return step == "" || step == "sheet" || slices.ContainsFunc(Steps, func(s Step) bool { return s.Key == step })
}

func loopback(hostport string) bool {
	host := hostport
	if h, _, err := net.SplitHostPort(hostport); err == nil {
		host = h
	}
	ip := net.ParseIP(strings.Trim(host, "[]"))
	return host == "localhost" || ip != nil && ip.IsLoopback()
}

// LoopbackAddress returns an error for a listen address beyond this machine.
func LoopbackAddress(addr string) error {
	if host, _, err := net.SplitHostPort(addr); err != nil || !loopback(host) {
		return fmt.Errorf("%q: Bildhauer listens on this machine only, such as 127.0.0.1:8473", addr)
	}
	return nil
}
