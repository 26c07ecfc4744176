"""Reading a picture of a page: sections, boxes, pictures, texts, buttons, colours."""
