"""FastAPI: the application, one router and its Pydantic models per subject. Thin."""
