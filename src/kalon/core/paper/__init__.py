"""What feet and shoes on paper share: the sheet found and flattened, outlines as polygons."""
