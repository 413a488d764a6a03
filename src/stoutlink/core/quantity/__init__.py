"""Text to SI and back: the only room where inches, fractions, pounds and degrees live."""
