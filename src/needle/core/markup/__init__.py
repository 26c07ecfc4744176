"""What kinds are rendered with: tags, texts and pictures as HTML, and what they may ask for."""
