"""Letters by mail: written with what they are about, sent by the worker, each once as far as anybody can."""
