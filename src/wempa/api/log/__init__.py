"""The swatch log: the book, what is learned from it, squares to lay next, guesses."""
