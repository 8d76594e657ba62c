import { chromium } from '@playwright/test';
const base='http://localhost:4781';
const api=async (m,p,b)=>{const r=await fetch(`${base}/api/${p}`,{method:m,headers:b?{'content-type':'application/json'}:{},body:b?JSON.stringify(b):undefined}); const t=await r.text(); try{return JSON.parse(t)}catch{return t}};
const [p]=await api('GET','projects'); const tl=await api('GET',`projects/${p.id}/timelines`);
const shelves=await api('GET','shelves'); const raid=shelves.find(s=>s.name==='STUDIO-RAID'), vault=shelves.find(s=>/TRAVEL|VAULT|ARCHIVE/.test(s.name)&&s.attached);
console.log(tl.map(t=>t.name));
const cut=tl.find(t=>/v2|Fine/i.test(t.name))??tl[0];
const common={timelineIds:[cut.id],media:'parts',headFrames:12,tailFrames:12,joinGapFrames:0,countDisabled:false};
const run=async(kind,settings)=>{const plan=await api('POST','plans',{projectId:p.id,kind,settings}); if(plan.blocked||!plan.digest) console.log(kind, plan.blocked??JSON.stringify(plan).slice(0,300)); const r=await api('POST','runs',{projectId:p.id,kind,settings,digest:plan.digest}); console.log(kind, JSON.stringify(r).slice(0,100)); for(let i=0;i<100;i++){await new Promise(f=>setTimeout(f,500)); const x=await api('GET',`runs/${r.id}`); if(['done','failed','warned','cancelled'].includes(x.run?.state??x.state)) {console.log(x.run?.state??x.state); return;}}};
if(process.argv[2]==='make'){
 await run('pull',{...common,destination:{shelfId:vault.id,path:''},folderName:'Pulled'});
 await run('crate',{...common,destination:{shelfId:vault.id,path:''},crateName:'Bronze Hour crate',note:''});
}
const browser=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox','--disable-gpu']});
const page=await browser.newPage({viewport:{width:1280,height:800},colorScheme:process.env.DARK?'dark':'light'});
page.on('console',m=>m.type()==='error'&&console.log('console',m.text()));
const open=async path=>{await page.goto(`${base}/p/${p.id}/${path}`); await page.waitForSelector('[data-ready]'); await page.waitForTimeout(1500)};
await open('timelines?view=usage');
const sw=page.getByRole('switch',{name:'Pulled parts'}); if(!(await sw.isChecked())) await sw.click({force:true}); await page.waitForTimeout(1200);
await page.getByRole('row').filter({hasText:'08:02:04'}).first().click(); await page.waitForTimeout(800);
await page.screenshot({path:'/tmp/s-usage.png'});
const crates=await api('GET',`projects/${p.id}/crates`);
await open(`crates?view=made&crate=${crates[0].id}`); await page.screenshot({path:'/tmp/s-crate.png'});
await open(`crates?view=made&crate=${crates[0].id}&with=project`); await page.screenshot({path:'/tmp/s-compare.png'});
await page.getByRole('textbox',{name:'Show'}).click().catch(()=>{});
await open('proxies'); await page.getByText('all channels',{exact:false}).first().click(); await page.waitForTimeout(500); await page.screenshot({path:'/tmp/s-proxies.png'});
await open('proxies?view=exchange'); await page.screenshot({path:'/tmp/s-exchange.png'});
await browser.close();
