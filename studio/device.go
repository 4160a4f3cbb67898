package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"time"

	"bildhauer/printer"
)

// device speaks to a printer (docs/printer.md).
type device struct {
	base string
	http *http.Client
}

func newDevice(address string) *device {
	return &device{base: "http://" + address, http: &http.Client{Timeout: 10 * time.Second}}
}

// errRefused is an answer of the printer that is no.
type errRefused struct {
	code int
	text string
}

func (e *errRefused) Error() string { return e.text }

// isBusy reports whether a job may be sent again later.
func (e *errRefused) isBusy() bool { return e.code == http.StatusConflict }

// ask sends a request and reads the answer. An error that is no errRefused means that nothing
// was heard.
func (d *device) ask(ctx context.Context, method, path string, body io.Reader, into any, header ...string) error {
	r, err := http.NewRequestWithContext(ctx, method, d.base+path, body)
	if err != nil {
		return err
	}
	for i := 0; i+1 < len(header); i += 2 {
		r.Header.Set(header[i], header[i+1])
	}
	resp, err := d.http.Do(r)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	raw, err := io.ReadAll(io.LimitReader(resp.Body, 1<<20))
	if err != nil {
		return err
	}
	if resp.StatusCode >= 300 {
		var no struct{ Error string }
		if json.Unmarshal(raw, &no) != nil || no.Error == "" {
			no.Error = fmt.Sprintf("the printer answers %s", resp.Status)
		}
		return &errRefused{resp.StatusCode, no.Error}
	}
	if err := json.Unmarshal(raw, into); err != nil {
		return fmt.Errorf("the printer's answer can't be read: %w", err)
	}
	return nil
}

// send gives the printer a job; sent again it is not begun again. One that was switched off
// since it told its boot does not take it.
func (d *device) send(ctx context.Context, key, boot string, file io.Reader) (j printer.Job, err error) {
	err = d.ask(ctx, http.MethodPut, "/jobs/"+key, file, &j, "If-Match", boot)
	return j, err
}

func (d *device) job(ctx context.Context, key string) (j printer.Job, err error) {
	err = d.ask(ctx, http.MethodGet, "/jobs/"+key, nil, &j)
	return j, err
}

func (d *device) act(ctx context.Context, key, act string) (j printer.Job, err error) {
	err = d.ask(ctx, http.MethodPost, "/jobs/"+key+"/"+act, nil, &j)
	return j, err
}

func (d *device) status(ctx context.Context) (s printer.Status, err error) {
	ctx, end := context.WithTimeout(ctx, 2*time.Second)
	defer end()
	err = d.ask(ctx, http.MethodGet, "/status", nil, &s)
	return s, err
}

func refusal(err error) *errRefused {
	var no *errRefused
	errors.As(err, &no)
	return no
}
