package web

import (
	"github.com/gofiber/fiber/v3"

	"bildhauer/notices"
)

// notices is the page of what others made and is in the program, with the licences.
func (h *server) notices(c fiber.Ctx) error {
	list, err := notices.Read()
	if err != nil {
		return err
	}
	type work struct {
		notices.Work
		Licences []string
	}
	works := make([]work, len(list.Works))
	for i, w := range list.Works {
		works[i].Work = w
		for _, t := range w.Texts {
			works[i].Licences = append(works[i].Licences, list.Texts[t])
		}
	}
	return c.Render("notices", fiber.Map{"Title": "Notices", "Works": works})
}
