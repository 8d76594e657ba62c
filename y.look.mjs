import { chromium } from '@playwright/test';
const base='http://localhost:4781';
const browser=await chromium.launch({executablePath:'/usr/bin/chromium',args:['--no-sandbox','--disable-gpu']});
const [p]=await (await fetch(base+'/api/projects')).json();
for (const s of ['overview','timelines','timelines?view=usage','shelves','sort','relink','pull','proxies','crates','runs']){
 const ctx=await browser.newContext({viewport:{width:1280,height:800}}); const page=await ctx.newPage(); const cdp=await ctx.newCDPSession(page); await cdp.send('Network.enable');
 let bytes=0,n=0; const names={}; const urls={}; cdp.on('Network.responseReceived',e=>urls[e.requestId]=e.response.url); cdp.on('Network.loadingFinished',e=>{const u=urls[e.requestId]??''; if(u.includes('/_astro/')){bytes+=e.encodedDataLength;n++; if(e.encodedDataLength>0)names[u.split('/').pop()]=Math.round(e.encodedDataLength/1000)}});
 const t=performance.now(); await page.goto(`${base}/p/${p.id}/${s}`); await page.waitForFunction(()=>document.querySelector('[data-ready]')!==null&&document.querySelector('[aria-busy=true]')===null); const cold=performance.now()-t;
 await page.waitForTimeout(800);
 const t2=performance.now(); await page.goto(`${base}/p/${p.id}/${s}`); await page.waitForFunction(()=>document.querySelector('[data-ready]')!==null&&document.querySelector('[aria-busy=true]')===null); const warm=performance.now()-t2;
 console.log(s.padEnd(22),n,Math.round(bytes/1000)+' kB','cold',Math.round(cold),'warm',Math.round(warm),JSON.stringify(Object.fromEntries(Object.entries(names).sort((a,b)=>b[1]-a[1]).slice(0,9))));
 await ctx.close();
}
await browser.close();
