package studio_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

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
	own.Name, own.Relief.Step = "Mooring coin", 0.5
	doc, err := own.Document()
	if err != nil {
		t.Fatal(err)
	}
	if _, _, err := s.KeepRecipe(t.Context(), doc); err != nil {
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
	if err != nil || again.Relief.Step != 0.5 || !again.How.Equal(own.How) || again.Ready {
		t.Errorf("%+v %v", again, err)
	}
	own.Relief.Step = 1
	doc, _ = own.Document()
	_, instead, err := s.KeepRecipe(t.Context(), doc)
	if err != nil || instead == "" {
		t.Errorf("in the place of %q, %v", instead, err)
	}
	list, err := s.Recipes(t.Context())
	if err != nil || len(list) != len(recipe.Ready())+1 || list[len(list)-1].Relief.Step != 1 {
		t.Errorf("%d recipes, %v", len(list), err)
	}
	// The one that was replaced comes back, and the one in its place waits then.
	if say, err := s.BringBack(t.Context(), "recipe", instead); err != nil || !strings.Contains(say, "waits") {
		t.Errorf("brought back: %q, %v", say, err)
	}
	if again, err = s.Recipe(t.Context(), "Mooring coin"); err != nil || again.Relief.Step != 0.5 {
		t.Errorf("the one of before: %+v, %v", again, err)
	}
	id, err := s.DropRecipe(t.Context(), "Mooring coin")
	if err != nil {
		t.Error(err)
	}
	gone, err := s.Deleted(t.Context())
	if err != nil || len(gone) != 2 || gone[0].Name != "Mooring coin" || time.Until(gone[0].Goes).Round(time.Hour) != studio.ForgetAfter {
		t.Errorf("what waits: %+v, %v", gone, err)
	}
	for _, name := range []string{"Mooring coin", "Coin"} { // dropped already, and one of the program
		if _, err := s.DropRecipe(t.Context(), name); err == nil || !strings.Contains(err.Error(), "not saved any more") {
			t.Errorf("dropped %s: %v", name, err)
		}
	}
	if _, err := s.BringBack(t.Context(), "recipe", id); err != nil {
		t.Error(err)
	}
	if _, err := s.BringBack(t.Context(), "recipe", "none"); err == nil || !strings.Contains(err.Error(), "waited for 30 days") {
		t.Errorf("one that never was: %v", err)
	}
	taken, _ := json.Marshal(map[string]any{"version": recipe.Version, "name": "coin"})
	if _, _, err := s.KeepRecipe(t.Context(), taken); err == nil || !strings.Contains(err.Error(), "comes with the program") {
		t.Errorf("a name that is taken: %v", err)
	}
}
