# demo and test need Go and nothing else on a Debian machine.
.PHONY: demo build test race bench battery screenshots notices assets chromium parallel fuzz fidelity conformance references soak

demo:
	go run ./cmd/bildhauer demo

# One binary, with the licences of all that goes into it.
build: notices
	CGO_ENABLED=0 go build -trimpath -o bildhauer ./cmd/bildhauer

# Collects the licences anew; a test fails where something new has none among them.
notices:
	go generate ./notices

test: chromium parallel
	@test -z "$$(gofmt -l cmd core demo internal printer reader store studio web)" || { echo "gofmt these:"; gofmt -l cmd core demo internal printer reader store studio web; exit 1; }
	go vet ./...
	sh web/checks/run.sh
	go test -timeout 40m ./...

# The rooms that keep documents, results and files for several at once, under the
# race detector, which needs a C compiler.
race:
	@command -v gcc >/dev/null || { apt-get update && DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends gcc libc6-dev; }
	CGO_ENABLED=1 go test -race -timeout 20m ./core/mend ./core/parallel ./core/progress ./core/recipe ./core/stages ./core/write ./printer ./store ./studio

# The benchmarks of docs/measured.md, and the full set of nasty outlines.
bench:
	go test -run xxx -bench . -benchmem ./core/mend ./core/picture ./core/plane ./core/print ./core/raise ./core/read/trace ./core/stages
	go run ./internal/viewtime
	BILDHAUER_NASTY=2200 go test -count 1 -timeout 10m -run 'TestFaultsAreFoundAndMended|TestTakingAllTwice' ./core/mend
	BILDHAUER_TRUTH=200 go test -count 1 -timeout 30m -run "TestTruth|TestClearance|TestDemo" ./core/truth
	BILDHAUER_NASTY=2200 go test -count 1 -timeout 30m -v -run 'TestNastyOutlinesStaySound|TestRidgeHeights|TestEveryFormIsSound|TestEveryDetailIsSound|TestEveryDomeIsSound|TestOutwardHeights' ./core/raise

screenshots: chromium
	go run ./internal/shots

# Each fuzz target for FUZZTIME (default a minute).
FUZZTIME ?= 1m
fuzz:
	go test -run xxx -fuzz FuzzFill -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/plane
	go test -run xxx -fuzz FuzzSound -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/raise
	go test -run xxx -fuzz FuzzRead -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/read
	go test -run xxx -fuzz FuzzFont -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/read/font
	go test -run xxx -fuzz FuzzPDF -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/read/pdf
	go test -run xxx -fuzz FuzzContent -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/read/pdf
	go test -run xxx -fuzz FuzzPanorama -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/write
	go test -run xxx -fuzz FuzzEPS -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/read/ps
	go test -run xxx -fuzz 'FuzzSVG$$' -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./reader
	go test -run xxx -fuzz 'FuzzEPS$$' -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./reader
	go test -run xxx -fuzz 'FuzzPDF$$' -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./reader
	go test -run xxx -fuzz 'FuzzBitmap$$' -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./reader
	go test -run xxx -fuzz FuzzOpen -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/recipe
	go test -run xxx -fuzz FuzzBundle -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./studio
	go test -run xxx -fuzz FuzzParse -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./printer
	go test -run xxx -fuzz FuzzParseLength -fuzztime $(FUZZTIME) -fuzzminimizetime 1s ./core/units

# Rebuilds the vendored styles, scripts and fonts (needs Node.js, npm and the
# Debian packages that core/read/font/build.sh names), and the drawn demo files.
assets:
	sh web/assets/build.sh
	sh core/read/font/build.sh
	go run ./demo/draw

# The one without windows takes half of the time of the other, which does as well.
chromium:
	@command -v chromium-headless-shell >/dev/null || { apt-get update && DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends chromium-headless-shell; } || command -v chromium >/dev/null || DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends chromium

# Shares a clip out in a test, which is passed over without it.
parallel:
	@command -v parallel >/dev/null || { apt-get update && DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends parallel; } || echo "GNU parallel can't be installed; its test is passed over"

# Compares cleaned outlines with their originals: make fidelity FILES="a.svg b.eps".
FILES ?= $(wildcard demo/*.svg demo/*.eps demo/pier-key-tag.ai)
fidelity:
	@command -v rsvg-convert >/dev/null && command -v gs >/dev/null && command -v pdftocairo >/dev/null || { apt-get update && apt-get install -y --no-install-recommends librsvg2-bin ghostscript poppler-utils; }
	go run ./internal/fidelity $(FILES)

# People who share 300 connections for ten minutes, 500 prints with trouble, and the program killed
# 200 times.
soak:
	BILDHAUER_SOAK=1 go test -count 1 -timeout 20m -run TestManyPrints ./studio
	BILDHAUER_SOAK=10m go test -count 1 -timeout 20m -v -run TestManyConnections ./web
	BILDHAUER_KILLS=200 go test -count 1 -timeout 20m -v -run TestKilledAtAnyMoment ./cmd/bildhauer

# All files that try to hurt a reader, and 200 changes of each of our own drawings.
battery:
	BILDHAUER_BATTERY=all go test -count 1 -timeout 40m -run 'TestBattery|TestCutOffAndChanged' ./reader

# Reads the conformance files of a Debian package and tells for each whether it is drawn alike
# or what the report says; filters, which are no outlines, by themselves. They are not copied.
SUITE = /usr/libexec/installed-tests/RSVG/fixtures/reftests
conformance:
	@test -d $(SUITE) && command -v rsvg-convert >/dev/null || { apt-get update && apt-get install -y --no-install-recommends librsvg2-tests librsvg2-bin; }
	go run ./internal/fidelity -table -size 480 $(filter-out $(SUITE)/svg1.1/filters-%,$(wildcard $(SUITE)/svg1.1/*.svg))
	go run ./internal/fidelity -table -size 480 $(wildcard $(SUITE)/svg1.1/filters-*.svg) | tail -1
	go run ./internal/fidelity -table -size 480 $(wildcard $(SUITE)/bugs/*.svg $(SUITE)/svg2/*.svg $(SUITE)/*.svg)

# Draws the pictures of the readers' feature files anew; needs the renderers of
# fidelity and the fonts of core/read/font/build.sh.
references:
	go run ./internal/fidelity -references -size 240 $(filter-out %.png,$(wildcard core/read/testdata/features/*))
