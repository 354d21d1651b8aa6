"""The worker: claims queued runs and executes them on Dask."""
