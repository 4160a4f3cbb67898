package web

import (
	"context"
	"fmt"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/adaptor"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"bildhauer/studio"
)

// metrics counts what the server does, for those who watch it.
type metrics struct {
	answered *prometheus.CounterVec // by the first figure of the answer's code
	spent    prometheus.Summary
	open     prometheus.Gauge
	text     fiber.Handler // tells them all in the form that was asked for
}

// inFull are the classes of answers; each is told from the start, so that a rate of it is one.
var inFull = []string{"1xx", "2xx", "3xx", "4xx", "5xx"}

func newMetrics(s *studio.Studio) *metrics {
	m := &metrics{
		answered: prometheus.NewCounterVec(prometheus.CounterOpts{
			Name: "bildhauer_requests_total", Help: "Requests that were answered.",
		}, []string{"code"}),
		spent: prometheus.NewSummary(prometheus.SummaryOpts{
			Name: "bildhauer_request_seconds", Help: "How long answers took.",
		}),
		open: prometheus.NewGauge(prometheus.GaugeOpts{
			Name: "bildhauer_requests_open", Help: "Requests at work.",
		}),
	}
	for _, code := range inFull {
		m.answered.WithLabelValues(code)
	}
	all := prometheus.NewRegistry()
	all.MustRegister(m.answered, m.spent, m.open, holdings{s}, collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	m.text = adaptor.HTTPHandler(promhttp.HandlerFor(all, promhttp.HandlerOpts{}))
	return m
}

// count is part of every request.
func (m *metrics) count(c fiber.Ctx) error {
	begun := time.Now()
	m.open.Inc()
	err := c.Next()
	m.open.Dec()
	m.spent.Observe(time.Since(begun).Seconds())
	code := c.Response().StatusCode()
	if err != nil {
		a, _ := wordsFor(err)
		code = a.code
	}
	m.answered.WithLabelValues(fmt.Sprintf("%dxx", code/100)).Inc()
	return err
}

// holdings tells what the studio holds at the moment it is asked.
type holdings struct{ studio *studio.Studio }

var (
	keptPieces = prometheus.NewDesc("bildhauer_pieces", "Pieces that are kept.", nil, nil)
	keptJobs   = prometheus.NewDesc("bildhauer_jobs", "Work that somebody waits for.", nil, nil)
	keptBytes  = prometheus.NewDesc("bildhauer_kept_bytes", "Memory that results hold.", nil, nil)
	keptDiary  = prometheus.NewDesc("bildhauer_diary_entries_total", "What went wrong inside.", nil, nil)
)

// Describe is part of prometheus.Collector.
func (k holdings) Describe(to chan<- *prometheus.Desc) {
	for _, d := range []*prometheus.Desc{keptPieces, keptJobs, keptBytes, keptDiary} {
		to <- d
	}
}

// Collect is part of prometheus.Collector.
func (k holdings) Collect(to chan<- prometheus.Metric) {
	s := k.studio.Stats(context.Background())
	to <- prometheus.MustNewConstMetric(keptPieces, prometheus.GaugeValue, float64(s.Pieces))
	to <- prometheus.MustNewConstMetric(keptJobs, prometheus.GaugeValue, float64(s.Jobs))
	to <- prometheus.MustNewConstMetric(keptBytes, prometheus.GaugeValue, float64(s.KeptBytes))
	to <- prometheus.MustNewConstMetric(keptDiary, prometheus.CounterValue, float64(s.Diary))
}

// health tells whether pieces can be read and changed.
func (h *server) health(c fiber.Ctx) error {
	if err := h.studio.Healthy(c.Context()); err != nil {
		return fiber.NewError(fiber.StatusServiceUnavailable, "The data folder can't be used: "+err.Error()+".")
	}
	return c.JSON(fiber.Map{"ok": true})
}
