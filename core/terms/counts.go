package terms

// counts bound what a document holds.
var counts = []Figure{
	{Name: "share", What: "The share", Range: shares},
	{Name: "name", What: "The length of a name", Range: Range{Min: 0, Max: 120}},
	{Name: "sheets", What: "The number of sheets", Range: Range{Min: 1, Max: 40}},
	{Name: "fonts", What: "The number of fonts", Range: Range{Min: 0, Max: 40}},
	{Name: "page", Label: "Page", What: "The page", Range: Range{Min: 0, Max: 100_000, Step: 1}, Whole: true},
	{Name: "frames", What: "The number of own frames", Range: Range{Min: 0, Max: 200}},
	// As many as there may be shapes and groups in what is read.
	{Name: "edits", What: "The number of changed shapes", Range: Range{Min: 0, Max: 400_000}},
	{Name: "groups", What: "The number of groups", Range: Range{Min: 0, Max: 10_000}},
	{Name: "parts", What: "The number of parts with measures of their own", Range: Range{Min: 0, Max: 20_000}},
	// A person makes some hundred; taking all findings of a large sheet, some thousand.
	{Name: "mends", What: "The number of mends", Range: Range{Min: 0, Max: 20_000}},
	{Name: "saved", What: "The number of materials or cameras saved by name", Range: Range{Min: 0, Max: 100}},
	{Name: "paints", What: "The number of materials", Range: Range{Min: 0, Max: 400}},
	{Name: "lamps", What: "The number of lamps", Range: Range{Min: 0, Max: 64}},
	{Name: "tracks", What: "The number of tracks", Range: Range{Min: 0, Max: 4000}},
	{Name: "keys", What: "The number of keys", Range: Range{Min: 1, Max: 4000}},
	{Name: "paths", What: "The number of paths", Range: Range{Min: 0, Max: 400}},
	{Name: "points", What: "The number of points of a path", Range: Range{Min: 2, Max: 100}},
}
