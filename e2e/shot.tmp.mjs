import { chromium } from '@playwright/test';
const [,, out, w='1280', h='800', theme='light', open='', ...acts] = process.argv;
const b = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync'] });
const p = await b.newPage({ viewport: { width: +w, height: +h }, colorScheme: theme });
p.on('console', m => m.type()==='error' && console.log('console:', m.text())); p.on('pageerror', e => console.log('pageerror', e.message));
const base = process.env.BASE ?? 'http://127.0.0.1:8787';
await p.goto(base);
if (open !== 'door') {
await p.getByLabel('E-mail').fill('director@demo.example'); await p.getByLabel('Password').fill('bright-row-demo'); await p.getByRole('button',{name:'Sign in'}).click();
await p.getByText('podium').or(p.getByLabel('Rows')).first().waitFor();
if (open) { await p.getByRole('button',{name:new RegExp('^'+open)}).click(); await p.getByRole('region',{name:'Ladders'}).waitFor(); }
for (const a of acts) { const [k,v] = a.split(':'); if (k==='click') await p.getByRole('button',{name:v}).first().click(); if (k==='key') await p.keyboard.press(v); if (k==='text') await p.getByText(v).first().click(); if(k==='wait') await p.waitForTimeout(+v);}
}
await p.waitForTimeout(400);
await p.screenshot({ path: out }); await b.close();
