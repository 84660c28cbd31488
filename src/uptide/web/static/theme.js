// Before the page is drawn: the light or dark version that was chosen, or the one the system asks for.
document.documentElement.dataset.bsTheme =
  localStorage.getItem("uptide.theme") || (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
