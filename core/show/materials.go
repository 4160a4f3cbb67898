package show

import "bildhauer/core/recipe"

// usual is what a part is made of that nobody has painted.
var usual = recipe.Material{Rough: 0.45}

// Materials lists the ready ones. Those without a colour keep that of the artwork.
func Materials() []recipe.Material {
	return []recipe.Material{
		{Name: "Polished brass", Color: "#f2c568", Metal: 1, Rough: 0.12},
		{Name: "Old copper", Color: "#d98a63", Metal: 1, Rough: 0.38},
		{Name: "Bright steel", Color: "#c9ccce", Metal: 1, Rough: 0.22},
		{Name: "Gold leaf", Color: "#ffd37a", Metal: 1, Rough: 0.3},
		{Name: "Blackened iron", Color: "#3b3a39", Metal: 1, Rough: 0.5},
		{Name: "Enamel", Rough: 0.5, Coat: 1, CoatRough: 0.04},
		{Name: "Ship's lacquer", Rough: 0.7, Coat: 0.8, CoatRough: 0.18},
		{Name: "Plaster", Color: "#ece6dc", Rough: 0.95},
		{Name: "Sealing wax", Color: "#9c2a1f", Rough: 0.34, Coat: 0.3, CoatRough: 0.3},
		{Name: "Rubber", Rough: 0.82},
		{Name: "Slate", Color: "#4d5358", Rough: 0.7},
		{Name: "Neon", Rough: 0.6, Glow: 6},
		{Name: "Clear resin", Rough: 0.02, Clear: 0.95},
		{Name: "Frosted glass", Rough: 0.4, Clear: 0.9},
	}
}
