const base='http://localhost:4781';
const api=async (m,p,b)=>{const r=await fetch(`${base}/api/${p}`,{method:m,headers:b?{'content-type':'application/json'}:{},body:b?JSON.stringify(b):undefined}); return r.json()};
const [p]=await api('GET','projects');
for (const t of await api('GET',`projects/${p.id}/timelines`)){
 const f=await api('POST','plans',{projectId:p.id,kind:'finish',settings:{timelineId:t.id,countDisabled:true}});
 const f2=await api('POST','plans',{projectId:p.id,kind:'finish',settings:{timelineId:t.id,countDisabled:false}});
 const v=await api('GET',`projects/${p.id}/timelines/${t.id}`);
 console.log(t.name, 'finish', f.plan?.detail?.counts?.offline, f2.plan?.detail?.counts?.offline, 'list', t.offlineEvents??t.offline, JSON.stringify(Object.keys(v)).slice(0,200), v.offline, v.offlineEvents);
}
