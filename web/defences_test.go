package web

import (
	"bytes"
	"encoding/json"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"
)

// TestDefences holds that only the application's own pages reach it.
func TestDefences(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar}
	send := func(method, path string, head map[string]string, body io.Reader) (int, string, http.Header) {
		r, err := http.NewRequest(method, s.address+path, body)
		if err != nil {
			t.Fatal(err)
		}
		for k, v := range head {
			if k == "Host" {
				r.Host = v
			} else {
				r.Header.Set(k, v)
			}
		}
		res, err := client.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		b, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(b), res.Header
	}
	code, page, head := send("GET", "/", nil, nil)
	if code != 200 || !strings.Contains(head.Get("Content-Security-Policy"), "script-src 'self'") ||
		strings.Contains(page, "<script>") ||
		strings.Contains(page, "style=") {
		t.Errorf("home: %d %v", code, head)
	}
	_, token, _ := send("GET", "/token", nil, nil)
	var tok struct{ Token string }
	json.Unmarshal([]byte(token), &tok)
	with := map[string]string{"X-Csrf-Token": tok.Token, "Content-Type": "application/json"}
	undo := "/pieces/" + id + "/undo"
	for _, c := range []struct {
		name string
		head map[string]string
		want int
	}{
		{"no token", map[string]string{}, 403},
		{"wrong token", map[string]string{"X-Csrf-Token": "x"}, 403},
		{"another host", map[string]string{"X-Csrf-Token": tok.Token, "Host": "evil.example"}, 403},
		{"another origin", map[string]string{"X-Csrf-Token": tok.Token, "Origin": "http://evil.example"}, 403},
		{"another site", map[string]string{"X-Csrf-Token": tok.Token, "Sec-Fetch-Site": "cross-site"}, 403},
		{"own page", with, 200},
	} {
		if code, body, _ := send("POST", undo, c.head, nil); code != c.want {
			t.Errorf("%s: %d %s", c.name, code, body)
		}
	}
	// Wrong measures and unknown pieces are refused with a sentence.
	for path, body := range map[string]string{
		"/pieces/" + id + "/change":      `{"edits":[{"kind":"parts","parts":{"c24404f":{"depth":1e300}}}]}`,
		"/pieces/" + id + "/data/solids": `{"parts":["c24404f"],"try":{"c24404f":{"front":{"segments":1000}}}}`,
		"/pieces/nope/change":            `{"edits":[{"kind":"name","name":"x"}]}`,
	} {
		code, text, _ := send("POST", path, with, strings.NewReader(body))
		if code != 422 && code != 404 || !strings.Contains(text, "error") {
			t.Errorf("%s %s: %d %s", path, body, code, text)
		}
	}
	// An uploaded drawing's markup never comes back.
	evil := `<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script><rect id="&lt;img src=x&gt;" width="5" ` +
		`height="5" onload="alert(2)"/></svg>`
	var form bytes.Buffer
	mw := multipart.NewWriter(&form)
	part, _ := mw.CreateFormFile("file", "evil<b>.svg")
	io.WriteString(part, evil)
	mw.Close()
	code, text, _ := send(
		"POST",
		"/pieces",
		map[string]string{"X-Csrf-Token": tok.Token, "Content-Type": mw.FormDataContentType()},
		&form,
	)
	var made struct{ ID string }
	if json.Unmarshal([]byte(text), &made); code != 200 || made.ID == "" {
		t.Fatalf("upload: %d %s", code, text)
	}
	for _, p := range []string{"/", "/pieces/" + made.ID + "/intake", "/pieces/" + made.ID + "/thumb.svg", "/pieces/" + made.ID + "/file/svg"} {
		if _, body, _ := send("GET", p, map[string]string{"Accept": "text/html"}, nil); strings.Contains(
			body,
			"alert(",
		) ||
			strings.Contains(body, "<img src=x") ||
			strings.Contains(body, "evil<b>") {
			t.Errorf("%s gives markup back:\n%s", p, body)
		}
	}
	if err := LoopbackAddress("0.0.0.0:80"); err == nil {
		t.Error("listens beyond this machine")
	}
}
