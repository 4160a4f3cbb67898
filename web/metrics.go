package web

import (
	"fmt"
	"runtime"
	"strings"
	"sync/atomic"
	"time"

	"github.com/gofiber/fiber/v3"
)

// metrics counts what the server does, for those who watch it.
type metrics struct {
	begun    time.Time
	answered [6]atomic.Int64 // by the first figure of the answer's code
	spent    atomic.Int64    // nanoseconds of all answers
	open     atomic.Int64    // requests at work
}

// count is part of every request.
func (m *metrics) count(c fiber.Ctx) error {
	begun := time.Now()
	m.open.Add(1)
	err := c.Next()
	m.open.Add(-1)
	m.spent.Add(int64(time.Since(begun)))
	code := c.Response().StatusCode()
	if err != nil {
		a, _ := wordsFor(err)
		code = a.code
	}
	m.answered[min(max(code/100, 0), 5)].Add(1)
	return err
}

// health tells whether pieces can be read and changed.
func (h *server) health(c fiber.Ctx) error {
	if err := h.studio.Healthy(c.Context()); err != nil {
		return fiber.NewError(fiber.StatusServiceUnavailable, "The data folder can't be used: "+err.Error()+".")
	}
	return c.JSON(fiber.Map{"ok": true})
}

// metricsText tells the numbers in the text form of Prometheus (version 0.0.4).
func (h *server) metricsText(c fiber.Ctx) error {
	var b strings.Builder
	put := func(name, kind, help string, lines ...string) {
		fmt.Fprintf(&b, "# HELP bildhauer_%s %s\n# TYPE bildhauer_%s %s\n", name, help, name, kind)
		for _, l := range lines {
			fmt.Fprintf(&b, "bildhauer_%s%s\n", name, l)
		}
	}
	m := &h.metrics
	var answers []string
	total := int64(0)
	for i := 1; i < len(m.answered); i++ {
		n := m.answered[i].Load()
		total += n
		answers = append(answers, fmt.Sprintf(`{code="%dxx"} %d`, i, n))
	}
	put("requests_total", "counter", "Requests that were answered.", answers...)
	put("request_seconds", "summary", "How long answers took.",
		fmt.Sprintf("_sum %g", float64(m.spent.Load())/1e9), fmt.Sprintf("_count %d", total))
	put("requests_open", "gauge", "Requests at work.", fmt.Sprintf(" %d", m.open.Load()))
	s := h.studio.Stats(c.Context())
	put("pieces", "gauge", "Pieces that are kept.", fmt.Sprintf(" %d", s.Pieces))
	put("jobs", "gauge", "Work that somebody waits for.", fmt.Sprintf(" %d", s.Jobs))
	put("kept_bytes", "gauge", "Memory that results hold.", fmt.Sprintf(" %d", s.KeptBytes))
	put("diary_entries_total", "counter", "What went wrong inside.", fmt.Sprintf(" %d", s.Diary))
	var mem runtime.MemStats
	runtime.ReadMemStats(&mem)
	put("memory_bytes", "gauge", "Memory of the program.", fmt.Sprintf(" %d", mem.Sys-mem.HeapReleased))
	put("up_seconds", "gauge", "Since the program began.", fmt.Sprintf(" %.0f", time.Since(m.begun).Seconds()))
	c.Set("Content-Type", "text/plain; version=0.0.4; charset=utf-8")
	return c.SendString(b.String())
}
