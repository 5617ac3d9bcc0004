// Before anything is painted: the theme that was chosen, else the system's.
(() => {
  const chosen = localStorage.getItem('theme');
  const system = matchMedia('(prefers-color-scheme: dark)').matches ? 'lamp' : 'day';
  document.documentElement.dataset.theme = chosen === 'day' || chosen === 'lamp' ? chosen : system;
})();
