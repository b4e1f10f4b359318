"""The commands of `./kalon`, by what they are for. Each module says what its commands take (`add`)."""
