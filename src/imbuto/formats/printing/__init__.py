"""Sheets, labels and drawings as HTML, SVG and PDF."""
