package web

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"net"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"
	"time"

	"bildhauer/core/mend"
	"bildhauer/core/recipe"
	"bildhauer/internal/patience"
	"bildhauer/studio"
)

// client speaks to a site as the page's scripts do.
type client struct {
	s     *site
	http  *http.Client
	token string
}

func (s *site) client() *client {
	s.t.Helper()
	jar, _ := cookiejar.New(nil)
	c := &client{s: s, http: &http.Client{Jar: jar}}
	_, body := c.send("GET", "/token", "", nil)
	var r struct{ Token string }
	if err := json.Unmarshal([]byte(body), &r); err != nil {
		s.t.Fatal(err)
	}
	c.token = r.Token
	return c
}

func (c *client) send(method, path, kind string, body io.Reader) (int, string) {
	c.s.t.Helper()
	r, err := http.NewRequestWithContext(c.s.t.Context(), method, c.s.address+path, body)
	if err != nil {
		c.s.t.Fatal(err)
	}
	r.Header.Set("X-Csrf-Token", c.token)
	r.Header.Set("Accept", "application/json")
	if kind != "" {
		r.Header.Set("Content-Type", kind)
	}
	res, err := c.http.Do(r)
	if err != nil {
		c.s.t.Fatal(err)
	}
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	if err != nil {
		c.s.t.Fatal(err)
	}
	return res.StatusCode, string(b)
}

func (c *client) post(path, body string) (int, string) {
	return c.send("POST", path, "application/json", strings.NewReader(body))
}

// upload sends files as a form.
func (c *client) upload(path string, files ...studio.File) (int, string) {
	c.s.t.Helper()
	var form bytes.Buffer
	mw := multipart.NewWriter(&form)
	for _, f := range files {
		part, err := mw.CreateFormFile("file", f.Name)
		if err != nil {
			c.s.t.Fatal(err)
		}
		part.Write(f.Data)
	}
	mw.Close()
	return c.send("POST", path, mw.FormDataContentType(), &form)
}

// TestUploads counts each file by itself, keeps what came before one that is
// refused, and names files in messages.
func TestUploads(t *testing.T) {
	s := run(t, t.TempDir(), false)
	c := s.client()
	pad := bytes.Repeat([]byte(" "), 20<<20)
	big := func(name string) studio.File { return studio.File{Name: name, Data: append([]byte(frame), pad...)} }
	code, text := c.upload("/pieces", big("one.svg"), big("two.svg"), big("three.svg"))
	if code != 200 {
		t.Fatalf("three files of 20 MB: %d %s", code, text)
	}
	huge := studio.File{Name: "pier.svg", Data: append([]byte(frame), bytes.Repeat([]byte(" "), 33<<20)...)}
	if code, text := c.upload("/pieces", huge); code != 422 ||
		!strings.Contains(text, "pier.svg has 34 MB; the most that is read is 32 MB") {
		t.Errorf("a file of 33 MB: %d %s", code, text)
	}
	var many []studio.File
	for i := range 41 {
		many = append(many, studio.File{Name: fmt.Sprint(i, ".svg"), Data: []byte(frame)})
	}
	if code, text := c.upload("/pieces", many...); code != 422 || !strings.Contains(text, "41 files") {
		t.Errorf("41 files: %d %s", code, text)
	}
	if code, text := c.upload("/pieces"); code != 422 || !strings.Contains(text, "No file came along") {
		t.Errorf("no file: %d %s", code, text)
	}
	if code, text := c.send("POST", "/pieces", "multipart/form-data; boundary=x", strings.NewReader("no form")); code != 422 ||
		strings.Contains(text, "multipart") {
		t.Errorf("a broken form: %d %s", code, text)
	}
	// Of two files the first stays, and the answer says which failed.
	id := s.id("One")
	before, _ := s.studio.Piece(t.Context(), id)
	code, text = c.upload(
		"/pieces/"+id+"/sheets",
		studio.File{Name: "good.svg", Data: []byte(frame)},
		studio.File{Name: "bad.svg", Data: []byte("<svg")},
	)
	after, _ := s.studio.Piece(t.Context(), id)
	if code != 422 || !strings.Contains(text, "bad.svg") || !strings.Contains(text, `"added":1`) ||
		after.Rev == before.Rev {
		t.Errorf("of two files: %d %s", code, text)
	}
	if code, text := c.upload("/pieces/"+id+"/sheets", studio.File{Name: "f.ttf", Data: []byte("true, but no font")}); code != 422 ||
		!strings.Contains(text, "F.ttf is not a font") {
		t.Errorf("no font: %d %s", code, text)
	}
}

// TestRefusals answers everything wrong with a sentence of the right kind.
func TestRefusals(t *testing.T) {
	s := run(t, t.TempDir(), true)
	c := s.client()
	id := s.id("Compass badge")
	base := "/pieces/" + id
	for _, r := range []struct {
		path, body string
		code       int
		says       string
	}{
		{base + "/change", `{`, 422, "could not be read"},
		{base + "/change", `{"edits":[{"kind":"melt"}]}`, 422, `kind \"melt\" is not known`},
		{base + "/change", `{"edits":[{"kind":"parts","parts":{"zz":{"depth":3}}}]}`, 422, "not in the piece any more"},
		{base + "/change", `{"base":0,"edits":[{"kind":"choose","choice":{"lost":true}}]}`, 409, "another window (Demo scene)"},
		{base + "/change", `{"edits":[{"kind":"shapes","shapes":{"lost":{"name":"x"}}}]}`, 422, "shape of this change"},
		{base + "/undo?base=77", ``, 409, "another window"},
		{base + "/data/solids", `{"parts":["c24404f"],"try":{"c24404f":{"front":{"profile":"spiky"}}}}`, 422, "The profile can be chamfer, round"},
		{base + "/data/solids", `{"parts":["c010203"]}`, 422, "not in the artwork any more"},
		{base + "/sheets/9/accept", `{"file":"x"}`, 422, "Choose it once more"},
		{"/pieces/nope/change", `{"edits":[]}`, 404, "There is no such piece"},
		{"/pieces/nope/undo", ``, 404, "There is no such piece"},
		{"/pieces/nope/duplicate", ``, 404, "There is no such piece"},
		{"/pieces/nope/delete", ``, 404, "There is no such piece"},
		{"/nowhere", ``, 404, "nothing at this address"},
	} {
		code, text := c.post(r.path, r.body)
		if code != r.code || !strings.Contains(text, r.says) {
			t.Errorf("%s %s: %d %s", r.path, r.body, code, text)
		}
	}
	for path, code := range map[string]int{
		base + "/file/exe": 422, base + "/carve": 404, "/pieces/nope/raise": 404, "/pieces/nope/thumb.svg": 404, "/pieces/nope/data/events": 404,
		base + "/data/state": 200, base + "/file/glb": 200, base: 200,
	} {
		if got, text := c.send("GET", path, "", nil); got != code {
			t.Errorf("%s: %d %.200s", path, got, text)
		}
	}
	if code, text := c.post(base+"/change", `{"label":"`+strings.Repeat("x", 33<<20)+`"}`); code != 413 ||
		!strings.Contains(text, "more than 32 MB") {
		t.Errorf("a change of 33 MB: %d %.100s", code, text)
	}
}

// TestThumbnails are kept under a number that never comes again, and not kept
// when they show that something is wrong.
func TestThumbnails(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Tide clock")
	fetch := func() (string, string) {
		t.Helper()
		r, err := http.Get(s.address + "/pieces/" + id + "/thumb.svg")
		if err != nil {
			t.Fatal(err)
		}
		defer r.Body.Close()
		b, _ := io.ReadAll(r.Body)
		return r.Header.Get("Cache-Control"), string(b)
	}
	if kept, pic := fetch(); !strings.Contains(kept, "max-age=31536000") || strings.Count(pic, "<path") != 13 {
		t.Errorf("%s %.80s", kept, pic)
	}
	p, _ := s.studio.Piece(t.Context(), id)
	joined, err := s.studio.Artwork(t.Context(), p)
	if err != nil {
		t.Fatal(err)
	}
	none := map[string]bool{}
	for i := range joined.Sheet.Shapes {
		none[joined.Sheet.Shapes[i].Key] = false
	}
	s.change(id, "All out", &recipe.Choose{Choice: none})
	if kept, pic := fetch(); kept != "no-store" || strings.Contains(pic, "<path") {
		t.Errorf("with all left out: %s %.80s", kept, pic)
	}
}

// TestEventStream tells revisions and the progress of a job with an id.
func TestEventStream(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Tide clock")
	ctx, cancel := context.WithTimeout(t.Context(), patience.Of(t))
	defer cancel()
	r, _ := http.NewRequestWithContext(ctx, "GET", s.address+"/pieces/"+id+"/data/events", nil)
	res, err := http.DefaultClient.Do(r)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	lines := bufio.NewScanner(res.Body)
	next := func(kind string) string {
		t.Helper()
		for lines.Scan() {
			if lines.Text() == "event: "+kind {
				lines.Scan()
				return strings.TrimPrefix(lines.Text(), "data: ")
			}
		}
		t.Fatalf("the stream ended before %q", kind)
		return ""
	}
	if got := next("revision"); got != "3" { // measures, letters, scene
		t.Errorf("at first: revision %s", got)
	}
	mm := 77.0
	p := s.change(id, "Width", &recipe.SetSize{MM: &mm})
	if got := next("revision"); got != fmt.Sprint(p.Rev) {
		t.Errorf("then revision %s, want %d", got, p.Rev)
	}
	q, _ := http.NewRequestWithContext(ctx, "GET", s.address+"/pieces/"+id+"/data/checks", nil)
	q.Header.Set("X-Job", "job-7")
	go http.DefaultClient.Do(q)
	var report struct {
		Job, What string
		Share     float64
	}
	if err := json.Unmarshal([]byte(next("progress")), &report); err != nil || report.Job != "job-7" ||
		report.What == "" {
		t.Errorf("progress %+v, %v", report, err)
	}
}

// TestClientsThatLeave close the connection in the middle of a build; the work
// stops, and others go on.
func TestClientsThatLeave(t *testing.T) {
	s := run(t, t.TempDir(), false)
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="900" height="900">`)
	for i := range 2500 {
		fmt.Fprintf(
			&b,
			`<circle fill="#%06x" cx="%d" cy="%d" r="8"/>`,
			0x101010+i*7,
			9+18*(i%50),
			9+18*(i/50),
		)
	}
	id, err := s.studio.Create(
		t.Context(),
		studio.File{Name: "many.svg", Data: []byte(b.String() + "</svg>")},
	)
	if err != nil {
		t.Fatal(err)
	}
	window := s.studio.Watch(id)
	defer window.Close()
	wake, _ := window.Wake()
	conn, err := net.Dial("tcp", strings.TrimPrefix(s.address, "http://"))
	if err != nil {
		t.Fatal(err)
	}
	fmt.Fprintf(
		conn,
		"GET /pieces/%s/data/checks HTTP/1.1\r\nHost: %s\r\nX-Job: leaving\r\n\r\n",
		id,
		strings.TrimPrefix(s.address, "http://"),
	)
	select {
	case <-wake: // the work has begun
	case <-time.After(patience.Of(t)):
		t.Fatal("nothing began")
	}
	conn.Close()
	for end := time.Now().Add(patience.Of(t)); s.studio.Cancel("leaving"); time.Sleep(20 * time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("the work goes on although the client has left")
		}
	}
	if code, _ := s.client().send("GET", "/", "", nil); code != 200 {
		t.Errorf("the home page: %d", code)
	}
}

// TestMendingByRequest asks for what the Mend step shows, and for what is not
// there.
func TestMendingByRequest(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Gull crest")
	var m struct {
		Shapes   []outlineState
		Findings []findingState
		Loops    []loopState
		Before   seenState
		Limits   map[string]float64
		Kinds    []struct{ Name, Title string }
	}
	if err := json.Unmarshal(s.get("/pieces/"+id+"/data/mending"), &m); err != nil {
		t.Fatal(err)
	}
	if len(m.Shapes) != 14 || len(m.Findings) < 9 || len(m.Loops) == 0 || m.Before.Pieces == 0 || len(m.Limits) != 7 || len(m.Kinds) != 17 {
		t.Errorf("%d shapes, %d findings, %d loops, %+v, %d limits", len(m.Shapes), len(m.Findings), len(m.Loops), m.Before, len(m.Limits))
	}
	for _, f := range m.Findings {
		if len(f.Fixes) == 0 || f.Fixes[0].Will == "" || len(f.Fixes[0].Do) == 0 || f.Box[2] < 0 {
			t.Errorf("finding %+v", f)
		}
	}
	var n struct {
		Contours []struct {
			Closed   bool
			At       [][6]float64
			Straight []bool
		}
	}
	if err := json.Unmarshal(
		s.get("/pieces/"+id+"/data/nodes?shape="+m.Shapes[0].Key),
		&n,
	); err != nil || len(n.Contours) != 1 || len(n.Contours[0].At) < 4 {
		t.Errorf("nodes %+v, %v", n, err)
	}
	r, err := http.Get(s.address + "/pieces/" + id + "/data/nodes?shape=nobody")
	if err != nil || r.StatusCode != 422 {
		t.Errorf("nodes of nobody: %v, %v", r.StatusCode, err)
	}
	r.Body.Close()
	mattering := 0 // to somebody
	for _, f := range m.Findings {
		if k, _ := mend.KindOf(f.Kind); !f.Copes && !f.Quiet && k.Matters != mend.ForNobody {
			mattering++
		}
	}
	var count struct{ Open, Mends int }
	if err := json.Unmarshal(s.get("/pieces/"+id+"/data/findings"), &count); err != nil || count.Open != mattering || count.Mends != 0 {
		t.Errorf("%+v, %v", count, err)
	}
}
