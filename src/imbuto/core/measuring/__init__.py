"""From what people read off meters and labels to figures."""
