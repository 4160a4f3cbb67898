package web

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"os"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"bildhauer/studio"
)

// crowd is people who share connections: whichever is free is taken.
type crowd struct {
	t       *testing.T
	address string
	http    *http.Client
	cookie  string
	token   string
}

func newCrowd(t *testing.T, address string, connections int) *crowd {
	t.Helper()
	c := &crowd{t: t, address: address, http: &http.Client{Transport: &http.Transport{
		MaxConnsPerHost: connections, MaxIdleConnsPerHost: connections, DisableCompression: true,
	}}}
	t.Cleanup(c.http.CloseIdleConnections)
	res, err := c.http.Get(address + "/token")
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	var said struct{ Token string }
	if err := json.NewDecoder(res.Body).Decode(&said); err != nil {
		t.Fatal(err)
	}
	c.token = said.Token
	for _, k := range res.Cookies() {
		c.cookie = k.Name + "=" + k.Value
	}
	return c
}

func (c *crowd) ask(ctx context.Context, method, path, kind string, body io.Reader, head ...string) (int, string, http.Header, error) {
	r, err := http.NewRequestWithContext(ctx, method, c.address+path, body)
	if err != nil {
		return 0, "", nil, err
	}
	r.Header.Set("X-Csrf-Token", c.token)
	r.Header.Set("Cookie", c.cookie)
	r.Header.Set("Accept", "application/json")
	if kind != "" {
		r.Header.Set("Content-Type", kind)
	}
	for i := 0; i+1 < len(head); i += 2 {
		r.Header.Set(head[i], head[i+1])
	}
	res, err := c.http.Do(r)
	if err != nil {
		return 0, "", nil, err
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	return res.StatusCode, string(text), res.Header, err
}

func formWith(files ...studio.File) (kind string, body *bytes.Buffer) {
	body = &bytes.Buffer{}
	mw := multipart.NewWriter(body)
	for _, f := range files {
		part, _ := mw.CreateFormFile("file", f.Name)
		part.Write(f.Data)
	}
	mw.Close()
	return mw.FormDataContentType(), body
}

// TestWhatOutlivesARequest has a series work while other requests come over the same connection,
// longer and shorter ones: what the series was told stays as it was, to the last file. So do the
// addresses by which allowances go.
func TestWhatOutlivesARequest(t *testing.T) {
	s := run(t, t.TempDir(), false)
	c := newCrowd(t, s.address, 1)
	var files []studio.File
	for i := range 40 {
		files = append(files, studio.File{Name: fmt.Sprintf("sign %d.svg", i), Data: []byte(square)})
	}
	kind, body := formWith(files...)
	code, text, _, err := c.ask(t.Context(), "POST", "/series?format=ply&width=20mm", kind, body)
	var made struct{ ID, Width string }
	json.Unmarshal([]byte(text), &made)
	if err != nil || code != 200 || made.Width != "20 mm" {
		t.Fatalf("%d %s, %v", code, text, err)
	}
	for i := 0; ; i++ {
		noise := strings.Repeat(fmt.Sprint(i%10), 1+i%60) // as short as what it would write over, then longer
		if code, _, _, err := c.ask(t.Context(), "GET", "/pieces/"+noise+"/data/live?from="+noise+"&to="+noise, "", nil); err != nil || code == 200 {
			t.Fatalf("%d, %v", code, err)
		}
		_, text, _, err := c.ask(t.Context(), "GET", "/series/"+made.ID, "", nil)
		if err != nil {
			t.Fatal(err)
		}
		var state struct {
			Format string
			Over   bool
			Lines  []studio.SeriesLine
		}
		if err := json.Unmarshal([]byte(text), &state); err != nil || state.Format != "ply" {
			t.Fatalf("the series says %.200s, %v", text, err)
		}
		if !state.Over {
			continue
		}
		for _, l := range state.Lines {
			if l.State != "done" || !strings.HasSuffix(l.File, ".ply") {
				t.Errorf("%+v", l)
			}
		}
		break
	}
	// An address that is too much is told as ambiguous, not as one thousandth.
	kind, body = formWith(files[0])
	if code, text, _, _ := c.ask(t.Context(), "POST", "/series?width=1,000", kind, body); code != 422 || !strings.Contains(text, "1,000 can be 1.000 or 1000") {
		t.Errorf("a width of 1,000: %d %s", code, text)
	}
}

// TestManyConnections has people work over connections that go from one to another: each has a
// piece of a name of its own, and every answer (states, files, series, streams, ends of jobs) is
// about that. BILDHAUER_SOAK says for how long, usually 4 s.
func TestManyConnections(t *testing.T) {
	long := 4 * time.Second
	if d, err := time.ParseDuration(os.Getenv("BILDHAUER_SOAK")); err == nil {
		long = d
	}
	const connections, people = 300, 24
	s := run(t, t.TempDir(), false)
	c := newCrowd(t, s.address, connections)
	var ids [people]string
	for i := range ids {
		ids[i] = s.made(fmt.Sprintf("person%d.svg", i), strings.ReplaceAll(disc, "disc", fmt.Sprint("disc", i)))
	}
	ctx, stop := context.WithTimeout(t.Context(), long)
	defer stop()
	var asked, streams atomic.Int64
	var wg sync.WaitGroup
	for n := range connections {
		wg.Go(func() {
			rnd := rand.New(rand.NewPCG(7, uint64(n)))
			for ctx.Err() == nil {
				i := rnd.IntN(people)
				if err := c.act(ctx, rnd, i, ids[i], &streams); err != nil && ctx.Err() == nil {
					t.Errorf("person %d: %v", i, err)
					return
				}
				asked.Add(1)
			}
		})
	}
	wg.Wait()
	t.Logf("%d requests, %d streams", asked.Load(), streams.Load())
	if asked.Load() < 40 || streams.Load() < 4 { // on a machine that has much else to do
		t.Errorf("only %d requests and %d streams", asked.Load(), streams.Load())
	}
}

// act does something for a person and looks whether the answer is theirs.
func (c *crowd) act(ctx context.Context, rnd *rand.Rand, i int, id string, streams *atomic.Int64) error {
	name := fmt.Sprintf("Person%d", i)
	base := "/pieces/" + id
	mine := func(code int, text string, err error) error {
		if err == nil && (code != 200 || !strings.Contains(text, `"name":"`+name+`"`) || !strings.Contains(text, `"id":"`+id+`"`)) {
			err = fmt.Errorf("%d %.300s", code, text)
		}
		return err
	}
	switch rnd.IntN(6) {
	case 0:
		code, text, _, err := c.ask(ctx, "GET", base+"/data/state", "", nil)
		return mine(code, text, err)
	case 1:
		body := fmt.Sprintf(`{"label":"Width %d","edits":[{"kind":"size","by":"width","mm":%d}]}`, i, 20+rnd.IntN(60))
		code, text, _, err := c.ask(ctx, "POST", base+"/change", "application/json", strings.NewReader(body))
		return mine(code, text, err)
	case 2:
		code, _, head, err := c.ask(ctx, "GET", base+"/file/svg", "", nil, "X-Job", fmt.Sprintf("%016x", rnd.Uint64()))
		if err == nil && (code != 200 || !strings.Contains(head.Get("Content-Disposition"), strings.ToLower(name)+".svg")) {
			err = fmt.Errorf("the file of %s: %d %v", name, code, head)
		}
		return err
	case 3:
		return c.series(ctx, name, []string{"stl", "ply", "svg", "dxf"}[rnd.IntN(4)])
	case 4:
		streams.Add(1)
		return c.listen(ctx, rnd, base)
	default:
		if code, text, _, err := c.ask(ctx, "GET", fmt.Sprintf("%s/data/live?from=%d&to=%[2]d", base, rnd.IntN(9)), "", nil); err != nil || code != 200 {
			return fmt.Errorf("what is shown: %d %.200s, %w", code, text, err)
		}
		// A job that nobody has is not the job of somebody else.
		code, text, _, err := c.ask(ctx, "POST", fmt.Sprintf("/jobs/%016x/cancel", rnd.Uint64()), "", nil)
		if err == nil && (code != 200 || !strings.Contains(text, "false")) {
			err = fmt.Errorf("a job that is nobody's: %d %s", code, text)
		}
		return err
	}
}

// series raises one file and looks whether it is the own one; where there are too many already, one
// hears so.
func (c *crowd) series(ctx context.Context, name, format string) error {
	kind, body := formWith(studio.File{Name: name + ".svg", Data: []byte(square)})
	code, text, _, err := c.ask(ctx, "POST", "/series?format="+format, kind, body)
	if err != nil || code == 422 && strings.Contains(text, "series on the page") {
		return err
	}
	var made struct{ ID string }
	if json.Unmarshal([]byte(text), &made) != nil || made.ID == "" {
		return fmt.Errorf("a series: %d %s", code, text)
	}
	for ctx.Err() == nil {
		_, text, _, err := c.ask(ctx, "GET", "/series/"+made.ID, "", nil)
		if err != nil {
			return err
		}
		if !strings.Contains(text, `"file":"`+name+"."+format+`"`) || !strings.Contains(text, `"format":"`+format+`"`) {
			return fmt.Errorf("the series of %s: %s", name, text)
		}
		if strings.Contains(text, `"over":true`) {
			break
		}
	}
	_, _, _, err = c.ask(ctx, "POST", "/series/"+made.ID+"/remove", "", nil)
	return err
}

// listen hears a stream for a while and ends it; revisions only grow.
func (c *crowd) listen(ctx context.Context, rnd *rand.Rand, base string) error {
	ctx, stop := context.WithTimeout(ctx, time.Duration(20+rnd.IntN(300))*time.Millisecond)
	defer stop()
	r, _ := http.NewRequestWithContext(ctx, "GET", c.address+base+"/data/events", nil)
	r.Header.Set("Cookie", c.cookie)
	res, err := c.http.Do(r)
	if err != nil {
		if errors.Is(err, context.DeadlineExceeded) {
			return nil
		}
		return err
	}
	defer res.Body.Close()
	last := -1
	lines := bufio.NewScanner(res.Body)
	for lines.Scan() {
		rev := 0
		if n, _ := fmt.Sscanf(lines.Text(), "data: %d", &rev); n == 1 {
			if rev < last {
				return fmt.Errorf("revision %d after %d", rev, last)
			}
			last = rev
		}
	}
	return nil
}
