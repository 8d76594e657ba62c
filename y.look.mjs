import { chromium } from '@playwright/test';
const A='http://localhost:4781';
const id=(await (await fetch(A+'/api/projects')).json())[0].id;
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox']});
const p=await b.newPage({viewport:{width:1280,height:800}});
await p.goto(`${A}/p/${id}/shelves`); await p.locator('[data-ready]').waitFor(); await p.waitForTimeout(1500);
console.log(await p.evaluate(()=>[...document.querySelectorAll('.lines .row')].slice(0,3).map(r=>r.querySelector('.path')?.outerHTML.slice(0,400)+' '+[...(r.querySelector('.path')?.children??[])].map(c=>c.className+':'+c.offsetWidth+'/'+c.scrollWidth)+' cell '+r.children[0].offsetWidth)));
console.log(await p.evaluate(()=>document.querySelector('.head').style.gridTemplateColumns));
await b.close();
