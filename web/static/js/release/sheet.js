// The page to print of a piece.

document.getElementById("printit").addEventListener("click", () => window.print());
