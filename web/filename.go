package web

import (
	"net/url"
	"slices"
	"strings"
	"unicode"

	"github.com/gofiber/fiber/v3"
	"golang.org/x/text/unicode/norm"
)

// longestFileName bounds names of files, in bytes with what is added to them: most file systems take 255.
const longestFileName = 180

// devices are names that one system keeps for what is no file.
var devices = strings.Fields("con prn aux nul com1 com2 com3 com4 com5 com6 com7 com8 com9 lpt1 lpt2 lpt3 lpt4 lpt5 lpt6 lpt7 lpt8 lpt9")

// fileName makes a name that every system takes: letters of all scripts and digits stay, small ones, and what
// is between them is a hyphen.
func fileName(s string) string {
	var b strings.Builder
	apart := false
	for _, r := range norm.NFC.String(s) {
		switch {
		case unicode.IsLetter(r), unicode.IsDigit(r), unicode.IsMark(r):
			r = unicode.ToLower(r)
			if apart && b.Len() > 0 {
				b.WriteByte('-')
			}
			if b.Len()+4 > longestFileName {
				return b.String()
			}
			apart = false
			b.WriteRune(r)
		case r == ' ' || r == '_' || r == '-':
			apart = true
		}
	}
	name := b.String()
	switch {
	case name == "":
		return "piece"
	case slices.Contains(devices, name):
		return name + "-piece"
	}
	return name
}

// attach says that an answer is a file to be kept under a name: as it is, and in plain letters for those who
// know no others (RFC 6266, RFC 8187).
func attach(c fiber.Ctx, name string) {
	plain := strings.Map(func(r rune) rune {
		if r < ' ' || r > '~' || r == '"' || r == '\\' {
			return '_'
		}
		return r
	}, name)
	value := `attachment; filename="` + plain + `"`
	if plain != name {
		value += "; filename*=UTF-8''" + strings.ReplaceAll(url.QueryEscape(name), "+", "%20")
	}
	c.Set("Content-Disposition", value)
}
