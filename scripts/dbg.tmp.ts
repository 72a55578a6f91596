import { readFileSync, readdirSync } from 'node:fs'
import { weighBench } from './bench/weigh.ts'
const cpu = () => readdirSync('/proc').filter(p=>/^\d+$/.test(p)).map(p=>{ try { const c=readFileSync(`/proc/${p}/cmdline`,'utf8'); if(!/main\.ts/.test(c)) return ''; const s=readFileSync(`/proc/${p}/stat`,'utf8').split(' '); return c.split('/').slice(-3).join('/').slice(0,30)+' '+(Number(s[13])+Number(s[14]))/100 } catch { return '' } }).filter(Boolean)
const t=setInterval(()=>console.log(cpu().join(' | ')),4000)
console.log(await weighBench.run()); clearInterval(t)
