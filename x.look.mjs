import { chromium } from '@playwright/test';
const A='http://localhost:4781';
const id=(await (await fetch(A+'/api/projects')).json())[0].id;
const b=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox']});
const shots=process.argv[2].split(',');
const [w,h]=(process.argv[3]??'1280x800').split('x').map(Number);
const p=await b.newPage({viewport:{width:w,height:h},colorScheme:process.argv[4]??'light'});
p.on('console',m=>['error','warning'].includes(m.type())&&console.log('CONSOLE',m.text()));
let i=0;
for(const s of shots){ await p.goto(`${A}/p/${id}/${s}`); await p.locator('[data-ready]').waitFor(); await p.waitForTimeout(1800); await p.screenshot({path:`/tmp/s${i++}.png`}); }
await b.close();
