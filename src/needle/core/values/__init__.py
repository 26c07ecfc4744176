"""What a site is made of, below its nodes' kinds: ids, looks, words, forms, media, the brand."""
