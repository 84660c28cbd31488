"""Every way of computing a figure, gathered from the floors that compute."""
