document.getElementById('root')!.textContent = 'hi';
