"""The fitter's knowledge: values in, values out."""
