"""Geometry of the views: values in, shapes out. Templates only place the shapes."""
