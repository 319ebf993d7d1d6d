"""Guide schools and styles: data files, and the small builders that read them."""
