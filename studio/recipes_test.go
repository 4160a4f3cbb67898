package studio_test

import (
	"encoding/json"
	"strings"
	"testing"

	"bildhauer/core/recipe"
	"bildhauer/studio"
)

// TestRecipesAreKept keeps a recipe, finds it after a restart, writes another in its place
// and forgets it; those of the program stay.
func TestRecipesAreKept(t *testing.T) {
	dir := t.TempDir()
	s, err := studio.New(dir)
	if err != nil {
		t.Fatal(err)
	}
	own := recipe.Ready()[3]
	own.Name, own.Relief = "Mooring coin", 0.5
	doc, err := own.Document()
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.KeepRecipe(t.Context(), doc); err != nil {
		t.Fatal(err)
	}
	if err := s.Close(); err != nil {
		t.Fatal(err)
	}
	if s, err = studio.New(dir); err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	again, err := s.Recipe(t.Context(), "Mooring coin")
	if err != nil || again.Relief != 0.5 || !again.How.Equal(own.How) || again.Ready {
		t.Errorf("%+v %v", again, err)
	}
	own.Relief = 1
	doc, _ = own.Document()
	if _, err := s.KeepRecipe(t.Context(), doc); err != nil {
		t.Error(err)
	}
	list, err := s.Recipes(t.Context())
	if err != nil || len(list) != len(recipe.Ready())+1 || list[len(list)-1].Relief != 1 {
		t.Errorf("%d recipes, %v", len(list), err)
	}
	if err := s.DropRecipe(t.Context(), "Mooring coin"); err != nil {
		t.Error(err)
	}
	for name, err := range map[string]error{
		"dropped twice": s.DropRecipe(t.Context(), "Mooring coin"),
		"a ready one":   s.DropRecipe(t.Context(), "Coin"),
	} {
		if err == nil || !strings.Contains(err.Error(), "not kept any more") {
			t.Errorf("%s: %v", name, err)
		}
	}
	taken, _ := json.Marshal(map[string]any{"version": recipe.Version, "name": "coin"})
	if _, err := s.KeepRecipe(t.Context(), taken); err == nil || !strings.Contains(err.Error(), "comes with the program") {
		t.Errorf("a name that is taken: %v", err)
	}
}
