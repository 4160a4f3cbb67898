package main

import (
	"bufio"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"bildhauer/printer"
)

// TestPrinterCommand starts the stand-in, asks it how it is, and ends it; and calls it wrongly.
func TestPrinterCommand(t *testing.T) {
	r, w := io.Pipe()
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan int, 1)
	go func() {
		done <- run(ctx, []string{"printer", "--listen", "127.0.0.1:0", "--bed", "256", "--speed", "5"}, w, io.Discard)
	}()
	line, err := bufio.NewReader(r).ReadString('\n')
	if err != nil {
		t.Fatal(err)
	}
	address := regexp.MustCompile(`http://\S+`).FindString(strings.ReplaceAll(line, ",", " "))
	resp, err := http.Get(address + "/status")
	if err != nil {
		t.Fatal(err)
	}
	var s printer.Status
	json.NewDecoder(resp.Body).Decode(&s)
	resp.Body.Close()
	if s.Bed != [3]float64{256, 256, 256} || s.Speed != 5 || s.Job != nil {
		t.Errorf("%+v", s)
	}
	stop()
	if code := <-done; code != 0 {
		t.Errorf("it ended with %d", code)
	}
	for args, want := range map[string]string{
		"printer --bed 3": "--bed is one of", "printer --speed 0": "how many times faster", "printer --listen 0.0.0.0:1": "this machine only",
		"serve --data x --printer example.org:80": "--printer",
	} {
		var said strings.Builder
		if code := run(t.Context(), strings.Fields(args), io.Discard, &said); code == 0 || !strings.Contains(said.String(), want) {
			t.Errorf("%s: %d %s", args, code, said.String())
		}
	}
}
