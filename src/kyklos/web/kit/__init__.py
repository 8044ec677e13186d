"""What all pages are made with: fields, units, words, addresses, rendering, and how a page acts."""
